// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";
import type { VoiceId } from "./VoiceId";

/**
 * A loop of their own for voices within a pattern, or the pattern's again.
 */
export type SetLoop = { 
/**
 * The pattern.
 */
pattern: PatternId, 
/**
 * Whose loop it is.
 */
voices: Array<VoiceId>, 
/**
 * Its length; the pattern's where not said.
 */
ticks: number | null, };
