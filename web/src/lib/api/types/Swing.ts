// Made by `cargo xtask types`.
import type { SwingGrid } from "./SwingGrid";

/**
 * Swing: where the off-beat falls between two on-beats.
 */
export type Swing = { 
/**
 * 50 % is straight, 66.7 % a triplet feel; 50 to 75.
 */
percent: number, 
/**
 * Which off-beats move.
 */
grid: SwingGrid, };
