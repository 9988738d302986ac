// Made by `cargo xtask types`.

/**
 * Gains in dB over frequency, for pictures.
 */
export type Response = { 
/**
 * Of what stays below, in dB.
 */
rest: Array<number>, 
/**
 * With everything that follows the level as far as it goes.
 */
moved: Array<number>, };
