// Made by `cargo xtask types`.
import type { LoopPiece } from "./LoopPiece";
import type { LoopTempo } from "./LoopTempo";

/**
 * Where a loop could be cut.
 */
export type LoopCuts = { 
/**
 * How long it is.
 */
frames: number, 
/**
 * Peaks of 1200 slices, 0 to 1.
 */
overview: Array<number>, 
/**
 * From each hit to the next.
 */
pieces: Array<LoopPiece>, 
/**
 * The best first.
 */
tempi: Array<LoopTempo>, };
