// Made by `cargo xtask types`.
import type { SectionId } from "./SectionId";

/**
 * A section at another place of the song.
 */
export type MoveSection = { 
/**
 * The section.
 */
section: SectionId, 
/**
 * Its place, from 0.
 */
to: number, };
