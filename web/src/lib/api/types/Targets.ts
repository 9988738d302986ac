// Made by `cargo xtask types`.
import type { LaneTarget } from "./LaneTarget";

/**
 * What lanes and the sum are to reach.
 */
export type Targets = { 
/**
 * For each lane without a target of its own.
 */
lane: LaneTarget, 
/**
 * True peak that main is to stay under, -30 to 0 dBTP.
 */
sum_dbtp: number, };
