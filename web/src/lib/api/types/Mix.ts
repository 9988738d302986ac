// Made by `cargo xtask types`.

/**
 * What the mix of a processor means.
 */
export type Mix = "sound" | "gains" | "whole";
