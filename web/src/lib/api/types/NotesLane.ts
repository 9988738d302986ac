// Made by `cargo xtask types`.
import type { VoiceId } from "./VoiceId";

/**
 * The lane of notes that come in.
 */
export type NotesLane = { "kind": "new" } | { "kind": "voice", 
/**
 * That voice.
 */
voice: VoiceId, } | { "kind": "named", 
/**
 * Its name.
 */
name: string, };
