// Made by `cargo xtask types`.
import type { SectionId } from "./SectionId";

/**
 * Which stretch of the song is rendered.
 */
export type StemRange = { "kind": "song" } | { "kind": "section", 
/**
 * The section.
 */
section: SectionId, } | { "kind": "bars", 
/**
 * The first, from 0.
 */
from_bar: number, 
/**
 * How many.
 */
bars: number, };
