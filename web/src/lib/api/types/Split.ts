// Made by `cargo xtask types`.
import type { NoteKey } from "./NoteKey";
import type { SplitTarget } from "./SplitTarget";

/**
 * Notes of a take that go together.
 */
export type Split = { 
/**
 * The voice.
 */
to: SplitTarget, 
/**
 * Whose notes go there.
 */
keys: Array<NoteKey>, };
