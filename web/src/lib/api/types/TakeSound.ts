// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { NoteKey } from "./NoteKey";

/**
 * A ready sound for one sound of a take.
 */
export type TakeSound = { 
/**
 * Whose notes play it.
 */
key: NoteKey, 
/**
 * The audio.
 */
asset: AssetRef, };
