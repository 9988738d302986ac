// Made by `cargo xtask types`.

/**
 * What a target is given in.
 */
export type TargetBy = "peak" | "true_peak" | "rms" | "loudness";
