// Made by `cargo xtask types`.

/**
 * A tempo that a loop could have.
 */
export type LoopTempo = { 
/**
 * Quarter notes a minute.
 */
bpm: number, 
/**
 * Whole bars that the loop then has.
 */
bars: number, 
/**
 * How well hits lie on sixteenths, 0 to 1.
 */
fit: number, };
