// Made by `cargo xtask types`.

/**
 * What of the sound is taken down.
 */
export type ShapeBand = "whole" | "low" | "around" | "high";
