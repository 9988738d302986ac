// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";
import type { SectionId } from "./SectionId";

/**
 * A stretch of the song in which one pattern repeats.
 */
export type Section = { 
/**
 * Its id.
 */
id: SectionId, 
/**
 * What it is called.
 */
name: string, 
/**
 * What it plays.
 */
pattern: PatternId, 
/**
 * At least 1; the pattern repeats or is cut to fill them.
 */
bars: number, };
