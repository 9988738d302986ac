// Made by `cargo xtask types`.
import type { VoiceId } from "./VoiceId";

/**
 * Moves a voice to a row of the board, counted from 0.
 */
export type MoveVoice = { 
/**
 * The voice.
 */
voice: VoiceId, 
/**
 * The row, from 0.
 */
to: number, };
