// Made by `cargo xtask types`.
import type { VoiceId } from "./VoiceId";

/**
 * A choke set for voices, or none.
 */
export type SetChoke = { 
/**
 * The voices.
 */
voices: Array<VoiceId>, 
/**
 * The set's number.
 */
set: number | null, };
