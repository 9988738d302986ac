// Made by `cargo xtask types`.

/**
 * A section of one session.
 */
export type SectionId = number;
