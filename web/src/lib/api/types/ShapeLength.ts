// Made by `cargo xtask types`.

/**
 * How long a shape is.
 */
export type ShapeLength = "1/4" | "1/16" | "1/8t" | "1/8" | "1/8d" | "1/4t" | "1/4d" | "1/2" | "1 bar" | "2 bars" | "4 bars";
