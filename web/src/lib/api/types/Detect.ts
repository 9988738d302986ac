// Made by `cargo xtask types`.

/**
 * What of the signal counts as its level.
 */
export type Detect = "peak" | "rms";
