// Made by `cargo xtask types`.
import type { BarRange } from "./BarRange";
import type { HitsChange } from "./HitsChange";
import type { PatternId } from "./PatternId";
import type { VoiceId } from "./VoiceId";

/**
 * Hits of voices in some bars, by rule.
 */
export type ChangeHits = { 
/**
 * The pattern.
 */
pattern: PatternId, 
/**
 * Whose hits change.
 */
voices: Array<VoiceId>, 
/**
 * The bars of the pattern.
 */
range: BarRange, 
/**
 * The rule.
 */
change: HitsChange, };
