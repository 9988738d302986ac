// Made by `cargo xtask types`.

/**
 * A MIDI take that a session keeps.
 */
export type TakeId = number;
