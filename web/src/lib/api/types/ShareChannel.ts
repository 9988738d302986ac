// Made by `cargo xtask types`.
import type { StripId } from "./StripId";
import type { VoiceId } from "./VoiceId";

/**
 * Voices onto a channel that exists.
 */
export type ShareChannel = { 
/**
 * The voices.
 */
voices: Array<VoiceId>, 
/**
 * The channel or trigger.
 */
channel: StripId, };
