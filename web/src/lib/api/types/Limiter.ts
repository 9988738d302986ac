// Made by `cargo xtask types`.

/**
 * A limiter. Under its ceiling it is transparent but for its latency.
 */
export type Limiter = { 
/**
 *Ceiling: -36.0 to 0.0 dBTP.
 */
ceiling_dbtp: number, 
/**
 *Release: 1.0 to 2500.0 ms.
 * Time until 63 % of the reduction are let go.
 */
release_ms: number, 
/**
 *Lookahead: 1.0 to 20.0 ms.
 * How far ahead of the sound the level is known; latency.
 */
lookahead_ms: number, };
