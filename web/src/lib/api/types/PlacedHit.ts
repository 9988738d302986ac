// Made by `cargo xtask types`.
import type { Hit } from "./Hit";

/**
 * A hit on the grid.
 */
export type PlacedHit = { 
/**
 * As it is written.
 */
hit: Hit, 
/**
 * Ticks from the start of the first bar, with its shift.
 */
at_ticks: number, 
/**
 * Whether it is written there, rather than repeated by a loop of the voice's own.
 */
written: boolean, };
