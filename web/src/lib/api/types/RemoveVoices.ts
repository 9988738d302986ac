// Made by `cargo xtask types`.
import type { VoiceId } from "./VoiceId";

/**
 * Voices with their hits, and the channels that this leaves empty.
 */
export type RemoveVoices = { 
/**
 * Those to go.
 */
voices: Array<VoiceId>, };
