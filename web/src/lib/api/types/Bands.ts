// Made by `cargo xtask types`.

/**
 * A spectrum in bands of a twelfth of an octave.
 */
export type Bands = { 
/**
 * Middles in Hz.
 */
hz: Array<number>, 
/**
 * Mean power in dBFS, a sine of full scale at -3; -150 for silence.
 */
db: Array<number>, };
