// Made by `cargo xtask types`.

/**
 * Where along a strip a stem is taken.
 */
export type Tap = "dry" | "channel";
