// Made by `cargo xtask types`.
import type { ProcessorId } from "./ProcessorId";
import type { StripId } from "./StripId";

/**
 * Moves a processor to a place of its chain, counted from 0.
 */
export type MoveProcessor = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * The processor.
 */
processor: ProcessorId, 
/**
 * Its place, from 0.
 */
to: number, };
