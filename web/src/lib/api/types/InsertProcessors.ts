// Made by `cargo xtask types`.
import type { Processor } from "./Processor";
import type { StripId } from "./StripId";

/**
 * Processors as they are given, under ids of their own, in one or more chains: at a place counted from 0, or at
 * their ends, or instead of what is there.
 */
export type InsertProcessors = { 
/**
 * The strips.
 */
strips: Array<StripId>, 
/**
 * As they are given.
 */
processors: Array<Processor>, 
/**
 * The place, from 0; the end where not said.
 */
at: number | null, 
/**
 * Instead of what is there.
 */
replace: boolean, };
