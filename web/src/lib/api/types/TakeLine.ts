// Made by `cargo xtask types`.
import type { Family } from "./Family";
import type { NoteKey } from "./NoteKey";

/**
 * One sound of a take: what it is, how often it comes, and what to do with it.
 */
export type TakeLine = { 
/**
 * Track, channel and key.
 */
key: NoteKey, 
/**
 * Name of its track; empty where it has none.
 */
track: string, 
/**
 * What the note is called: a sound of the kit, or a pitch.
 */
name: string, 
/**
 * The family of the voice proposed.
 */
family: Family, 
/**
 * Whether the note is a pitch rather than a sound of a kit.
 */
melodic: boolean, 
/**
 * Notes of it.
 */
hits: number, 
/**
 * The first bar in which it comes, counted from 1.
 */
first_bar: number, 
/**
 * The voice that it is proposed for; lines with the same one go together.
 */
voice: string, };
