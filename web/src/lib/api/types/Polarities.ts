// Made by `cargo xtask types`.

/**
 * Which sides are turned round.
 */
export type Polarities = "neither" | "left" | "right" | "both";
