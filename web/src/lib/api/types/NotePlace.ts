// Made by `cargo xtask types`.
import type { Family } from "./Family";
import type { NotesLane } from "./NotesLane";

/**
 * Notes of a take that go together, and the lane that is proposed for them.
 */
export type NotePlace = { 
/**
 * The voice that [`midi::lines`] proposes for them.
 */
notes: string, 
/**
 * Its family.
 */
family: Family, 
/**
 * How many notes there are.
 */
hits: number, 
/**
 * The lane: by its id where the session has it, by its name where the edits before make it.
 */
to: NotesLane, };
