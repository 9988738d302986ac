// Made by `cargo xtask types`.
import type { VoiceId } from "./VoiceId";

/**
 * A trigger that plays what a lane plays: by following it, or with a copy of its hits.
 */
export type NewTrigger = { 
/**
 * The voice that it plays like.
 */
like: VoiceId, 
/**
 * Whether it follows, rather than having a copy.
 */
follows: boolean, };
