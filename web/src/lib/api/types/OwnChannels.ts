// Made by `cargo xtask types`.
import type { VoiceId } from "./VoiceId";

/**
 * Each of the voices on a channel that it has for itself.
 */
export type OwnChannels = { 
/**
 * The voices.
 */
voices: Array<VoiceId>, };
