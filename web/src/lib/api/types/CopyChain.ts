// Made by `cargo xtask types`.
import type { ProcessorId } from "./ProcessorId";
import type { StripId } from "./StripId";

/**
 * Processors, all of a chain where none are named, onto other strips: behind what they have, or instead.
 */
export type CopyChain = { 
/**
 * The strip that has them.
 */
from: StripId, 
/**
 * Which of them; all where none are named.
 */
processors: Array<ProcessorId>, 
/**
 * The strips that get them.
 */
to: Array<StripId>, 
/**
 * Instead of what these have.
 */
replace: boolean, };
