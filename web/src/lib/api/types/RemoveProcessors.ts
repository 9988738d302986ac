// Made by `cargo xtask types`.
import type { ProcessorId } from "./ProcessorId";
import type { StripId } from "./StripId";

/**
 * Processors of a chain, taken out.
 */
export type RemoveProcessors = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * Those to go.
 */
processors: Array<ProcessorId>, };
