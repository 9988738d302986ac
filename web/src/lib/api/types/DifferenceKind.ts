// Made by `cargo xtask types`.

/**
 * What a difference is about.
 */
export type DifferenceKind = "rows" | "sound" | "hits" | "levels" | "chain" | "routing" | "song" | "rest";
