// Made by `cargo xtask types`.
import type { SumBy } from "./SumBy";

/**
 * What a ducker shall do.
 */
export type Goal = { "goal": "depth", 
/**
 * In dB, 0 to 60; of a filter in semitones, to 96.
 */
db: number, } | { "goal": "recovery" } | { "goal": "sum", 
/**
 * In dB, -6 to 12.
 */
over_db: number, 
/**
 * What is held against each other.
 */
by: SumBy, };
