// Made by `cargo xtask types`.

/**
 * A processor of one session.
 */
export type ProcessorId = number;
