// Made by `cargo xtask types`.

/**
 * Changes that may have gone through.
 */
export type KnownRequest = { ids: Array<string>, };
