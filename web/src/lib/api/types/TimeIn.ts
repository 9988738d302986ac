// Made by `cargo xtask types`.

/**
 * What a time is counted in.
 */
export type TimeIn = "ms" | "1/64" | "1/32" | "1/16t" | "1/16" | "1/16d" | "1/8t" | "1/8" | "1/8d" | "1/4t" | "1/4" | "1/4d" | "1/2";
