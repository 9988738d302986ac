// Made by `cargo xtask types`.

/**
 * Bit and rate reduction, coarse on purpose: what it folds back is its sound.
 */
export type Crush = { 
/**
 *Bits: 1.0 to 24.0 bit.
 * Whole steps on each side of silence: 2 to the power of one less; parts of a bit lie between.
 */
bits: number, 
/**
 *Rate: 1.0 to 100.0 %.
 * Rate of the held sample, in parts of the session's.
 */
rate_percent: number, };
