// Made by `cargo xtask types`.

/**
 * How samples are written.
 */
export type Depth = "int24" | "float32";
