// Made by `cargo xtask types`.

/**
 * The id of something new.
 */
export type Created = { id: string, };
