// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";

/**
 * A bar of a lane.
 */
export type LaneBar = { 
/**
 * The pattern that plays in it.
 */
pattern: PatternId, 
/**
 * The tick of the pattern at which the bar begins.
 */
from_ticks: number, 
/**
 * Ticks after which what the lane plays comes again: a tick of the bar is one of the pattern modulo this.
 */
period_ticks: number, };
