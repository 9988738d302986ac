// Made by `cargo xtask types`.

/**
 * What a band does.
 */
export type Shape = "high_pass" | "low_shelf" | "bell" | "high_shelf" | "low_pass" | "notch";
