// Made by `cargo xtask types`.
import type { Detect } from "./Detect";
import type { TimeIn } from "./TimeIn";

/**
 * A gate. Its level is its own input's or its key's.
 */
export type Gate = { 
/**
 *Threshold: -80.0 to 0.0 dBFS.
 */
threshold_dbfs: number, 
/**
 *Hysteresis: 0.0 to 24.0 dB.
 * How far under the threshold an open gate stays open.
 */
hysteresis_db: number, 
/**
 *Ratio: 1.0 to 100.0 :1.
 * From 100 on a gate, below an expander.
 */
ratio: number, 
/**
 *Range: 0.0 to 100.0 dB.
 * How much is taken away at most; 100 dB is silence.
 */
range_db: number, 
/**
 *Attack: 0.02 to 250.0 ms.
 * Time until an opening gate has 63 % of its way behind it.
 */
attack_ms: number, 
/**
 *Hold: 0.0 to 1000.0 ms.
 */
hold_ms: number, 
/**
 *Release: 1.0 to 2500.0 ms.
 * Time until a closing gate has 63 % of its way behind it.
 */
release_ms: number, 
/**
 *Lookahead: 0.0 to 20.0 ms.
 * How far ahead of the sound the level is known; as much latency.
 */
lookahead_ms: number, 
/**
 *Level by.
 */
detect: Detect, 
/**
 *Attack in.
 */
attack_in: TimeIn, 
/**
 *Hold in.
 */
hold_in: TimeIn, 
/**
 *Release in.
 */
release_in: TimeIn, };
