// Made by `cargo xtask types`.

/**
 * Bars of a pattern, counted from 0.
 */
export type BarRange = { 
/**
 * The first, from 0.
 */
from: number, 
/**
 * How many.
 */
bars: number, };
