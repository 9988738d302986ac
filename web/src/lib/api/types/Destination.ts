// Made by `cargo xtask types`.
import type { StripId } from "./StripId";
import type { VoiceId } from "./VoiceId";

/**
 * Where it goes.
 */
export type Destination = { 
/**
 * The lane that waits for it; a new one where none does.
 */
voice: VoiceId | null, 
/**
 * Where the channel of a new lane goes; the mix bus where not said.
 */
output: StripId | null, };
