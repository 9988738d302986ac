// Made by `cargo xtask types`.
import type { NotesTo } from "./NotesTo";
import type { Take } from "./Take";
import type { TakeSound } from "./TakeSound";

/**
 * A MIDI take, kept and split as proposed: hits for lanes of the same name, new lanes for the rest. An
 * untouched song takes over tempo and metre.
 */
export type AddTake = { 
/**
 * As it came.
 */
take: Take, 
/**
 * Sounds for its notes.
 */
sounds: Array<TakeSound>, 
/**
 * Where notes go for which somebody chose another lane than the proposed one.
 */
to: Array<NotesTo>, };
