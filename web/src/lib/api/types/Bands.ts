// Made by `cargo xtask types`.

/**
 * A spectrum in bands: of a twelfth of an octave, where nothing else is said.
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
