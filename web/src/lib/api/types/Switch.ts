// Made by `cargo xtask types`.

/**
 * Whether a band is heard.
 */
export type Switch = "on" | "off";
