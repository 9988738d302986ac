// Made by `cargo xtask types`.
import type { VoiceId } from "./VoiceId";

/**
 * Lanes as triggers that only feed keys, or as lanes that are heard again.
 */
export type SetTriggers = { 
/**
 * The voices.
 */
voices: Array<VoiceId>, 
/**
 * Whether they are triggers now.
 */
trigger: boolean, };
