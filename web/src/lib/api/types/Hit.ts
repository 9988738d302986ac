// Made by `cargo xtask types`.

/**
 * One hit of a voice.
 */
export type Hit = { 
/**
 * Ticks from the start of the pattern.
 */
at_ticks: number, 
/**
 * Ticks; how long it is held where the voice is gated.
 */
length_ticks: number, 
/**
 * 1 to 127; full level at 127, level falls with its square.
 */
velocity: number, 
/**
 * Semitones away from the sample's own pitch, -48 to 48.
 */
tune_st: number, };
