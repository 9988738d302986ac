// Made by `cargo xtask types`.
import type { Family } from "./Family";
import type { StripId } from "./StripId";
import type { Swing } from "./Swing";
import type { VoiceId } from "./VoiceId";
import type { VoiceSource } from "./VoiceSource";

/**
 * One sound of the kit or the music; with its channel it is a lane of the board.
 */
export type Voice = { 
/**
 * Its id.
 */
id: VoiceId, 
/**
 * 1 to 80 characters; the name everywhere.
 */
name: string, 
/**
 * Its family.
 */
family: Family, 
/**
 * What it plays.
 */
source: VoiceSource, 
/**
 * The channel it runs on; two voices may share one.
 */
channel: StripId, 
/**
 * 1 to 16: a hit of one voice of a choke set ends what the others of the set still sound.
 */
choke_set: number | null, 
/**
 * Swing of its own; the session's where not said.
 */
swing: Swing | null, 
/**
 * How much later than written its hits sound, -100 (earlier) to +100 ms.
 */
late_ms: number, 
/**
 * Plays the hits of another voice, which follows none itself, instead of its own.
 */
follows: VoiceId | null, };
