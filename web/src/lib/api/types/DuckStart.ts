// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * Something to be ducked, and by what.
 */
export type DuckStart = { 
/**
 * What it does, in few words; each its own.
 */
text: string, 
/**
 * What the key hears.
 */
sources: Array<StripId>, 
/**
 * What is ducked.
 */
strips: Array<StripId>, };
