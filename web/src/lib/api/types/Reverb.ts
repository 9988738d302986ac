// Made by `cargo xtask types`.
import type { Space } from "./Space";

/**
 * A reverb. What comes out is the reverb alone; the sound itself is mixed in by the mix.
 */
export type Reverb = { 
/**
 * Time in which it falls by 60 dB in the middle.
 */
decay_s: number, 
/**
 * The lows' decay against the middle's.
 */
low_percent: number, 
/**
 * The highs' decay against the middle's.
 */
high_percent: number, 
/**
 * Where the lows give way to the middle.
 */
low_hz: number, 
/**
 * Where the middle gives way to the highs.
 */
high_hz: number, 
/**
 * Length of its ways.
 */
size_percent: number, predelay_ms: number, 
/**
 * What goes in loses what is under this; 0 is off.
 */
low_cut_hz: number, 
/**
 * What goes in loses what is over this; 0 is off.
 */
high_cut_hz: number, space: Space, };
