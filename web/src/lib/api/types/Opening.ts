// Made by `cargo xtask types`.

/**
 * How a gate or an expander is opened by its key.
 */
export type Opening = { 
/**
 * Hits of the key after which it opens before the next one …
 */
opened: number, 
/**
 * … of so many.
 */
hits: number, 
/**
 * For how long it is open after a hit that opens it, in ms, on average.
 */
open_ms: number, };
