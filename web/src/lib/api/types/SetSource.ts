// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { VoiceId } from "./VoiceId";
import type { VoiceSource } from "./VoiceSource";

/**
 * What a voice plays.
 */
export type SetSource = { 
/**
 * The voice.
 */
voice: VoiceId, 
/**
 * What it is to play.
 */
source: VoiceSource, 
/**
 * Audio that this names.
 */
assets: Array<AssetRef>, };
