// Made by `cargo xtask types`.

/**
 * Bit and rate reduction, coarse on purpose: what it folds back is its sound.
 */
export type Crush = { 
/**
 * Whole steps on each side of silence: 2 to the power of one less; parts of a bit lie between.
 */
bits: number, 
/**
 * Rate of the held sample, in parts of the session's.
 */
rate_percent: number, };
