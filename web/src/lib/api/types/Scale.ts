// Made by `cargo xtask types`.

/**
 * How a value runs from its least to its most.
 */
export type Scale = "even" | "ratio";
