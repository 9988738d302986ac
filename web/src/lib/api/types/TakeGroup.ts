// Made by `cargo xtask types`.
import type { NoteKey } from "./NoteKey";
import type { VoiceId } from "./VoiceId";

/**
 * Notes that went to one voice.
 */
export type TakeGroup = { 
/**
 * The voice.
 */
voice: VoiceId, 
/**
 * Its sounds.
 */
keys: Array<NoteKey>, 
/**
 * Whether the split made the voice, which then goes with it.
 */
made: boolean, };
