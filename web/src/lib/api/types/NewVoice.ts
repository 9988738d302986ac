// Made by `cargo xtask types`.
import type { Family } from "./Family";
import type { NewHits } from "./NewHits";
import type { StripId } from "./StripId";
import type { VoiceSource } from "./VoiceSource";

/**
 * A voice to be made, with its channel.
 */
export type NewVoice = { name: string, family: Family, source: VoiceSource, 
/**
 * Where its channel goes; the mix bus where not said.
 */
output: StripId | null, hits: Array<NewHits>, };
