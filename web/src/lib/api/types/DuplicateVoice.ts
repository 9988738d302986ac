// Made by `cargo xtask types`.
import type { VoiceId } from "./VoiceId";

/**
 * A copy of a lane on a channel of its own.
 */
export type DuplicateVoice = { 
/**
 * That to copy.
 */
voice: VoiceId, 
/**
 * Whether the copy has the settings of the channel too.
 */
with_chain: boolean, 
/**
 * Whether it follows the first lane's pattern.
 */
follows: boolean, };
