// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";
import type { SectionId } from "./SectionId";

/**
 * A stretch of the song in which one pattern repeats.
 */
export type Section = { id: SectionId, name: string, pattern: PatternId, 
/**
 * At least 1; the pattern repeats or is cut to fill them.
 */
bars: number, };
