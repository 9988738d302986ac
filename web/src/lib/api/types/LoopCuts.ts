// Made by `cargo xtask types`.
import type { LoopPiece } from "./LoopPiece";
import type { LoopTempoLine } from "./LoopTempoLine";

/**
 * Where a loop could be cut.
 */
export type LoopCuts = { frames: number, 
/**
 * Peaks of 1200 slices, 0 to 1.
 */
overview: Array<number>, pieces: Array<LoopPiece>, 
/**
 * The best first.
 */
tempi: Array<LoopTempoLine>, };
