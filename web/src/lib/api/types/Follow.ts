// Made by `cargo xtask types`.
import type { VoiceId } from "./VoiceId";

/**
 * The hits of another voice instead of its own; set free, it goes on with a copy of them.
 */
export type Follow = { 
/**
 * The voice that is to follow, or to be free.
 */
voice: VoiceId, 
/**
 * Whom it follows.
 */
leader: VoiceId | null, };
