// Made by `cargo xtask types`.
import type { Repair } from "./Repair";
import type { StripId } from "./StripId";

/**
 * One suggestion.
 */
export type Suggestion = { strip: StripId, 
/**
 * Stays the same while the thing is there, so that it can be refused.
 */
key: string, sentence: string, 
/**
 * Where it sits, to be marked on a spectrum.
 */
freq_hz: number | null, repair: Repair | null, };
