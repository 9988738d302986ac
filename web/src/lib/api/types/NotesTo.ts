// Made by `cargo xtask types`.
import type { NotesLane } from "./NotesLane";

/**
 * Where notes of a take go that comes in.
 */
export type NotesTo = { 
/**
 * Which notes: the voice that [`midi::lines`] proposes for them.
 */
notes: string, 
/**
 * The lane.
 */
to: NotesLane, };
