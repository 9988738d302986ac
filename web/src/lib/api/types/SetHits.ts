// Made by `cargo xtask types`.
import type { Hit } from "./Hit";
import type { PatternId } from "./PatternId";
import type { VoiceId } from "./VoiceId";

/**
 * All hits of a voice in a pattern.
 */
export type SetHits = { 
/**
 * The pattern.
 */
pattern: PatternId, 
/**
 * The voice; one that follows has none of its own.
 */
voice: VoiceId, 
/**
 * All that it is to play.
 */
hits: Array<Hit>, };
