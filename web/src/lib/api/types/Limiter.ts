// Made by `cargo xtask types`.

/**
 * A limiter. Under its ceiling it is transparent but for its latency.
 */
export type Limiter = { ceiling_dbtp: number, 
/**
 * Time until 63 % of the reduction are let go.
 */
release_ms: number, 
/**
 * How far ahead of the sound the level is known; latency.
 */
lookahead_ms: number, };
