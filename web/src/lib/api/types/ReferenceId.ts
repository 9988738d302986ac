// Made by `cargo xtask types`.

/**
 * A recording that a session is held against.
 */
export type ReferenceId = number;
