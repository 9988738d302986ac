// Made by `cargo xtask types`.
import type { ProcessorId } from "./ProcessorId";
import type { StripId } from "./StripId";

/**
 * What gets the same sound on both sides, whatever is played.
 */
export type MonoPlaces = { 
/**
 * Strips whose width gets it.
 */
strips: Array<StripId>, 
/**
 * Processors whose input gets it.
 */
processors: Array<ProcessorId>, };
