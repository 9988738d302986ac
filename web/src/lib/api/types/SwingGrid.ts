// Made by `cargo xtask types`.

/**
 * Which off-beats swing moves.
 */
export type SwingGrid = "eighth" | "sixteenth";
