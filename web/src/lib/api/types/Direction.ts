// Made by `cargo xtask types`.

/**
 * Which end of the level it brings nearer to the other.
 */
export type Direction = "down" | "up";
