// Made by `cargo xtask types`.
import type { Polarities } from "./Polarities";

/**
 * Small things along the way. Its delay is meant, so nothing makes up for it.
 */
export type Utility = { gain_db: number, 
/**
 * Whole samples; parts are cut off.
 */
delay_frames: number, 
/**
 * The sides are filtered away under this; 0 is off.
 */
mono_below_hz: number, 
/**
 * 100 % is unchanged; the mono sum never changes.
 */
width_percent: number, polarity: Polarities, };
