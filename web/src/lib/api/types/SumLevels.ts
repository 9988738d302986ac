// Made by `cargo xtask types`.

/**
 * Levels that a sum is kept by, in dBFS.
 */
export type SumLevels = { 
/**
 * Of the key alone.
 */
key: number, 
/**
 * Of both without the ducker.
 */
without: number, 
/**
 * Of both with it, as it was found.
 */
with: number, };
