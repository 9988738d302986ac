// Made by `cargo xtask types`.

/**
 * A channel, trigger, bus, return or main of one session.
 */
export type StripId = number;
