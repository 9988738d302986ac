// Made by `cargo xtask types`.
import type { Repair } from "./Repair";
import type { StripId } from "./StripId";

/**
 * One suggestion.
 */
export type Suggestion = { 
/**
 * The strip that it is about.
 */
strip: StripId, 
/**
 * Stays the same while the thing is there, so that it can be refused.
 */
key: string, 
/**
 * What was found, with figures.
 */
sentence: string, 
/**
 * Where it sits, to be marked on a spectrum.
 */
freq_hz: number | null, 
/**
 * An edit that mends it, where one does.
 */
repair: Repair | null, };
