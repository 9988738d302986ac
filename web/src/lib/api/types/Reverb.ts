// Made by `cargo xtask types`.
import type { Space } from "./Space";

/**
 * A reverb. What comes out is the reverb alone; the sound itself is mixed in by the mix.
 */
export type Reverb = { 
/**
 *Decay: 0.1 to 20.0 s.
 * Time in which it falls by 60 dB in the middle.
 */
decay_s: number, 
/**
 *Low decay: 20.0 to 200.0 %.
 * The lows' decay against the middle's.
 */
low_percent: number, 
/**
 *High decay: 10.0 to 100.0 %.
 * The highs' decay against the middle's.
 */
high_percent: number, 
/**
 *Lows under: 60.0 to 1000.0 Hz.
 * Where the lows give way to the middle.
 */
low_hz: number, 
/**
 *Highs over: 1000.0 to 12000.0 Hz.
 * Where the middle gives way to the highs.
 */
high_hz: number, 
/**
 *Size: 50.0 to 200.0 %.
 * Length of its ways; a short decay shortens them.
 */
size_percent: number, 
/**
 *Predelay: 0.0 to 250.0 ms.
 */
predelay_ms: number, 
/**
 *Low cut: 0.0 to 2000.0 Hz.
 * What goes in loses what is under this; 0 is off.
 */
low_cut_hz: number, 
/**
 *High cut: 0.0 to 20000.0 Hz.
 * What goes in loses what is over this; 0 is off.
 */
high_cut_hz: number, 
/**
 *Space.
 */
space: Space, };
