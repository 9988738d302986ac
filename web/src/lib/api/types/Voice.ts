// Made by `cargo xtask types`.
import type { Family } from "./Family";
import type { StripId } from "./StripId";
import type { VoiceId } from "./VoiceId";
import type { VoiceSource } from "./VoiceSource";

/**
 * One sound of the kit or the music; with its channel it is a lane of the board.
 */
export type Voice = { id: VoiceId, 
/**
 * 1 to 80 characters; the name everywhere.
 */
name: string, family: Family, source: VoiceSource, 
/**
 * The channel it runs on; two voices may share one.
 */
channel: StripId, };
