// Made by `cargo xtask types`.
import type { Detect } from "./Detect";
import type { Direction } from "./Direction";
import type { TimeIn } from "./TimeIn";

/**
 * A compressor. Its level is its own input's or its key's. What it lifts counts as a reduction below 0.
 */
export type Compressor = { 
/**
 *Threshold: -80.0 to 0.0 dBFS.
 */
threshold_dbfs: number, 
/**
 *Ratio: 1.0 to 100.0 :1.
 * From 100 on, the level is held at the threshold.
 */
ratio: number, 
/**
 *Knee: 0.0 to 24.0 dB.
 * Width of the bend around the threshold.
 */
knee_db: number, 
/**
 *Attack: 0.02 to 250.0 ms.
 * Time until 63 % of a step of the reduction are reached.
 */
attack_ms: number, 
/**
 *Hold: 0.0 to 500.0 ms.
 */
hold_ms: number, 
/**
 *Release: 1.0 to 2500.0 ms.
 * Time until 63 % of the reduction are let go, where the attack is much shorter.
 */
release_ms: number, 
/**
 *Range: 0.0 to 60.0 dB.
 * The reduction goes no further.
 */
range_db: number, 
/**
 *Lookahead: 0.0 to 20.0 ms.
 * How far ahead of the sound the level is known; as much latency.
 */
lookahead_ms: number, 
/**
 *Stereo link: 0.0 to 100.0 %.
 * How much the louder side counts for both.
 */
link_percent: number, 
/**
 *Makeup: 0.0 to 36.0 dB.
 */
makeup_db: number, 
/**
 *Floor: -100.0 to 0.0 dBFS.
 * Of what is lifted: what is softer stays as it is, so that silence stays silent.
 */
floor_dbfs: number, 
/**
 *Budget: 0.0 to 24.0 dB.
 * What it shall take away or lift at most over the loop; 0 where nobody said. Nothing is held to it.
 */
budget_db: number, 
/**
 *Brings.
 */
direction: Direction, 
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
