// Made by `cargo xtask types`.

/**
 * How steep a high-pass or low-pass is.
 */
export type Slope = "6" | "12" | "18" | "24" | "36" | "48";
