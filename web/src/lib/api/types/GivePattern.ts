// Made by `cargo xtask types`.
import type { SectionId } from "./SectionId";

/**
 * A new pattern for a section, empty or as the one that it plays, called by the next free letter.
 */
export type GivePattern = { 
/**
 * The section.
 */
section: SectionId, 
/**
 * Whether it begins with the hits of the one before.
 */
copy: boolean, };
