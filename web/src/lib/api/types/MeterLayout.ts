// Made by `cargo xtask types`.
import type { ProcessorId } from "./ProcessorId";
import type { StripId } from "./StripId";

/**
 * Whose meters stand where: a strip and its processors.
 */
export type MeterLayout = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * Its processors in order.
 */
processors: Array<ProcessorId>, };
