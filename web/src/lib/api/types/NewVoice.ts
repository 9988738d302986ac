// Made by `cargo xtask types`.
import type { Family } from "./Family";
import type { NewHits } from "./NewHits";
import type { StripId } from "./StripId";
import type { VoiceSource } from "./VoiceSource";

/**
 * A voice to be made, with its channel.
 */
export type NewVoice = { 
/**
 * What it is called; numbered where the name is taken.
 */
name: string, 
/**
 * Its family.
 */
family: Family, 
/**
 * What it plays.
 */
source: VoiceSource, 
/**
 * Where its channel goes; the mix bus where not said.
 */
output: StripId | null, 
/**
 * Gain in front of its channel's chain, in dB.
 */
trim_db: number, 
/**
 * Its hits.
 */
hits: Array<NewHits>, };
