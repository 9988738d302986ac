// Made by `cargo xtask types`.
import type { Family } from "./Family";

/**
 * A piece of a loop from one hit to the next.
 */
export type LoopPiece = { 
/**
 * Its first frame.
 */
start_frame: number, 
/**
 * The frame behind its last.
 */
end_frame: number, 
/**
 * What its sound speaks for.
 */
family: Family, };
