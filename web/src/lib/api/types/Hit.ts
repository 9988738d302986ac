// Made by `cargo xtask types`.

/**
 * One hit of a voice.
 */
export type Hit = { 
/**
 * Ticks from the start of the pattern, where it is written.
 */
at_ticks: number, 
/**
 * Ticks; how long it is held where the voice is gated, and what its repeats divide.
 */
length_ticks: number, 
/**
 * 1 to 127; full level at 127, level falls with its square.
 */
velocity: number, 
/**
 * Semitones away from the sample's own pitch, -48 to 48.
 */
tune_st: number, 
/**
 * Ticks later (or earlier) than written, -480 to 480.
 */
shift_ticks?: number, 
/**
 * Sounds within its length, 1 to 8, evenly spaced.
 */
repeats?: number, 
/**
 * Change of velocity from one repeat to the next, -60 to 60.
 */
slope?: number, 
/**
 * The one layer of the voice that it plays, counted from 0; all of them where not said.
 */
layer?: number, };
