// Made by `cargo xtask types`.
import type { Patch } from "./Patch";

/**
 * A step of a session that can be undone or done again.
 */
export type StepLine = { id: string, 
/**
 * What it did, in a few words.
 */
label: string, 
/**
 * The ways there and back; left out of older steps where they are large, and asked for by id.
 */
there: Patch | null, back: Patch | null, };
