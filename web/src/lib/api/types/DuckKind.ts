// Made by `cargo xtask types`.

/**
 * What a ducker takes away.
 */
export type DuckKind = "whole" | "band" | "shape" | "gate" | "expander" | "filter";
