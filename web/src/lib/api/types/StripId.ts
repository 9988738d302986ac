// Made by `cargo xtask types`.

/**
 * A channel, bus or main of one session.
 */
export type StripId = number;
