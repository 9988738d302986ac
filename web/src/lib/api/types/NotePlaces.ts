// Made by `cargo xtask types`.
import type { NotePlace } from "./NotePlace";

/**
 * Where the notes of a take would go.
 */
export type NotePlaces = { 
/**
 * The notes, those of a kit first.
 */
places: Array<NotePlace>, 
/**
 * Names of the lanes that the edits before make and that can take notes.
 */
coming: Array<string>, };
