// Made by `cargo xtask types`.

/**
 * How loud two sounds together are.
 */
export type SumBy = "peak" | "average";
