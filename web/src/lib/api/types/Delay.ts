// Made by `cargo xtask types`.
import type { NoteValue } from "./NoteValue";
import type { Sides } from "./Sides";

/**
 * A delay. What comes out are the echoes; the sound itself is mixed in by the mix.
 */
export type Delay = { 
/**
 * Where it is not counted in notes.
 */
time_ms: number, 
/**
 * Level of each echo against the one before.
 */
feedback_percent: number, 
/**
 * Each echo loses what is under this; 0 is off.
 */
low_cut_hz: number, 
/**
 * Each echo loses what is over this; 0 is off.
 */
high_cut_hz: number, note: NoteValue, sides: Sides, };
