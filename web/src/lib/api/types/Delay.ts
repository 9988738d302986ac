// Made by `cargo xtask types`.
import type { NoteValue } from "./NoteValue";
import type { Sides } from "./Sides";

/**
 * A delay. What comes out are the echoes; the sound itself is mixed in by the mix.
 */
export type Delay = { 
/**
 *Time: 1.0 to 4000.0 ms.
 * Where it is not counted in notes.
 */
time_ms: number, 
/**
 *Feedback: 0.0 to 95.0 %.
 * Level of each echo against the one before.
 */
feedback_percent: number, 
/**
 *Low cut: 0.0 to 2000.0 Hz.
 * Each echo loses what is under this; 0 is off.
 */
low_cut_hz: number, 
/**
 *High cut: 0.0 to 20000.0 Hz.
 * Each echo loses what is over this; 0 is off.
 */
high_cut_hz: number, 
/**
 *Counted in.
 */
note: NoteValue, 
/**
 *Echoes.
 */
sides: Sides, };
