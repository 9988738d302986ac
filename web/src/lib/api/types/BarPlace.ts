// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";
import type { SectionId } from "./SectionId";

/**
 * One bar of the song, and where its hits come from.
 */
export type BarPlace = { 
/**
 * The section that it lies in.
 */
section: SectionId, 
/**
 * The pattern that plays in it.
 */
pattern: PatternId, 
/**
 * The pattern's bar, counted from 0.
 */
pattern_bar: number, };
