// Made by `cargo xtask types`.
import type { Swing } from "./Swing";
import type { VoiceId } from "./VoiceId";

/**
 * A swing of their own for voices, or the session's.
 */
export type SetVoiceSwing = { 
/**
 * The voices.
 */
voices: Array<VoiceId>, 
/**
 * Their swing.
 */
swing: Swing | null, };
