// Made by `cargo xtask types`.

/**
 * How long a hit sounds.
 */
export type Hold = { "kind": "whole" } | { "kind": "gate", 
/**
 * 1 to 5000 ms.
 */
release_ms: number, };
