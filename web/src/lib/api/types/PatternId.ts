// Made by `cargo xtask types`.

/**
 * A pattern of one session.
 */
export type PatternId = number;
