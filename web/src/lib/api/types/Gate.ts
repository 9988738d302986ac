// Made by `cargo xtask types`.
import type { Detect } from "./Detect";

/**
 * A gate. Its level is its own input's or its key's.
 */
export type Gate = { threshold_dbfs: number, 
/**
 * How far under the threshold an open gate stays open.
 */
hysteresis_db: number, 
/**
 * From 100 on a gate, below an expander.
 */
ratio: number, 
/**
 * How much is taken away at most; 100 dB is silence.
 */
range_db: number, 
/**
 * Time until an opening gate has 63 % of its way behind it.
 */
attack_ms: number, hold_ms: number, 
/**
 * Time until a closing gate has 63 % of its way behind it.
 */
release_ms: number, 
/**
 * How far ahead of the sound the level is known; as much latency.
 */
lookahead_ms: number, detect: Detect, };
