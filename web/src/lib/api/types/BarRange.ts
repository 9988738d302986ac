// Made by `cargo xtask types`.

/**
 * Bars of a pattern, counted from 0.
 */
export type BarRange = { from: number, bars: number, };
