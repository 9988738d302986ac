// Made by `cargo xtask types`.

/**
 * What the filter lets through.
 */
export type Pass = "low_pass" | "band_pass" | "high_pass";
