// Made by `cargo xtask types`.
import type { ProcessorChange } from "./ProcessorChange";
import type { ProcessorId } from "./ProcessorId";
import type { StripId } from "./StripId";

/**
 * A value of a processor.
 */
export type SetProcessor = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * The processor.
 */
processor: ProcessorId, 
/**
 * What changes.
 */
change: ProcessorChange, };
