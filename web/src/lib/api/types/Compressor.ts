// Made by `cargo xtask types`.
import type { Detect } from "./Detect";

/**
 * A compressor. Its level is its own input's or its key's.
 */
export type Compressor = { threshold_dbfs: number, 
/**
 * From 100 on, the level is held at the threshold.
 */
ratio: number, 
/**
 * Width of the bend around the threshold.
 */
knee_db: number, 
/**
 * Time until 63 % of a step of the reduction are reached.
 */
attack_ms: number, hold_ms: number, 
/**
 * Time until 63 % of the reduction are let go, where the attack is much shorter.
 */
release_ms: number, 
/**
 * The reduction goes no further.
 */
range_db: number, 
/**
 * How far ahead of the sound the level is known; as much latency.
 */
lookahead_ms: number, 
/**
 * How much the louder side counts for both.
 */
link_percent: number, makeup_db: number, detect: Detect, };
