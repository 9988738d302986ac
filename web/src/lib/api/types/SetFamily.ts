// Made by `cargo xtask types`.
import type { Family } from "./Family";
import type { VoiceId } from "./VoiceId";

/**
 * A voice in another family.
 */
export type SetFamily = { 
/**
 * The voice.
 */
voice: VoiceId, 
/**
 * Its new family.
 */
family: Family, };
