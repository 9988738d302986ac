// Made by `cargo xtask types`.

/**
 * A tempo that a loop could have.
 */
export type LoopTempoLine = { bpm: number, bars: number, 
/**
 * How well its hits lie on sixteenths, 0 to 1.
 */
fit: number, };
