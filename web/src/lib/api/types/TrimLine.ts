// Made by `cargo xtask types`.
import type { LaneTarget } from "./LaneTarget";
import type { StripId } from "./StripId";

/**
 * One lane with the trim that meets its target.
 */
export type TrimLine = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * Its name.
 */
name: string, 
/**
 * What it is to reach.
 */
target: LaneTarget, 
/**
 * Its trim as it is, in dB.
 */
trim_before_db: number, 
/**
 * Its trim as proposed, in dB.
 */
trim_after_db: number, 
/**
 * Level after trim, in what the target is given in.
 */
level_before_db: number, 
/**
 * Its level with that, in the unit of its target.
 */
level_after_db: number, 
/**
 * Its sample peak after trim with that, in dBFS: over 0 it overloads what comes next.
 */
peak_after_dbfs: number | null, 
/**
 * Whether the trim would change by enough to be heard of.
 */
changes: boolean, };
