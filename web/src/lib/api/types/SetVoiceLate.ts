// Made by `cargo xtask types`.
import type { VoiceId } from "./VoiceId";

/**
 * How much later than written the hits of voices sound.
 */
export type SetVoiceLate = { 
/**
 * The voices.
 */
voices: Array<VoiceId>, 
/**
 * -100 (earlier) to +100 ms.
 */
late_ms: number, };
