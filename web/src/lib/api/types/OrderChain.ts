// Made by `cargo xtask types`.
import type { ProcessorId } from "./ProcessorId";
import type { StripId } from "./StripId";

/**
 * Another order of a chain: all of its processors, each once.
 */
export type OrderChain = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * All of its processors in the new order.
 */
order: Array<ProcessorId>, };
