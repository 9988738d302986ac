// Made by `cargo xtask types`.
import type { ProcessorId } from "./ProcessorId";

/**
 * What one compressor does over the stretch.
 */
export type Press = { 
/**
 * The compressor.
 */
processor: ProcessorId, 
/**
 * The most that it takes away, in dB; below 0 where it lifts.
 */
deepest_db: number, 
/**
 * The time from the deepest point of a hit until half of it is gone, the median over the stretch, in beats; nothing
 * where no hit is back before a stronger one comes.
 */
back_beats: number | null, 
/**
 * How many hits take something away, and how many of them are back.
 */
hits: number, 
/**
 * How many of those are back before a stronger one.
 */
back: number, 
/**
 * What is taken away, from the first to the last part of the stretch, in dB.
 */
reduction_db: Array<number>, 
/**
 * Where what feeds it hits, from 0 to 1 of the stretch.
 */
strokes: Array<number>, 
/**
 * Whether its own sound moves it, so that it can be solved for.
 */
solvable: boolean, };
