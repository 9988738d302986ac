// Made by `cargo xtask types`.
import type { VoiceId } from "./VoiceId";

/**
 * A voice under another name.
 */
export type RenameVoice = { 
/**
 * The voice.
 */
voice: VoiceId, 
/**
 * Its new name.
 */
name: string, };
