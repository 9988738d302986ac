// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * Frames after a hit at which its sound is at a strip.
 */
export type StripLatency = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * At its input, once everything that feeds it has waited for the latest.
 */
arrives: number, 
/**
 * After its chain, as late as it counts: a strip that is offset to be earlier counts as later, so that all else waits
 * for it, and the other way round.
 */
leaves: number, };
