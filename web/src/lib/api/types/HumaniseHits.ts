// Made by `cargo xtask types`.
import type { Humanise } from "./Humanise";
import type { PatternId } from "./PatternId";
import type { VoiceId } from "./VoiceId";

/**
 * Small variations of voices within a pattern, or none.
 */
export type HumaniseHits = { 
/**
 * The pattern.
 */
pattern: PatternId, 
/**
 * Whose hits vary.
 */
voices: Array<VoiceId>, 
/**
 * How much; not at all where not said.
 */
by: Humanise | null, };
