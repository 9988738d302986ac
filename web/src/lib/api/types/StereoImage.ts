// Made by `cargo xtask types`.
import type { Polarities } from "./Polarities";

/**
 * The sides of a sound, and small things along its way. Its delay is meant, so nothing makes up for it.
 */
export type StereoImage = { 
/**
 *Gain: -100.0 to 24.0 dB.
 */
gain_db: number, 
/**
 *Delay: 0.0 to 9600.0 samples.
 * Whole samples; parts are cut off.
 */
delay_frames: number, 
/**
 *Mono below: 0.0 to 500.0 Hz.
 * The sides are filtered away under this, by 24 dB an octave; 0 is off.
 */
mono_below_hz: number, 
/**
 *Width: 0.0 to 200.0 %.
 * 100 % is unchanged; the mono sum never changes.
 */
width_percent: number, 
/**
 *Polarity.
 */
polarity: Polarities, };
