// Made by `cargo xtask types`.
import type { SectionId } from "./SectionId";

/**
 * A section; the song has at least one.
 */
export type RemoveSection = { 
/**
 * That to go.
 */
section: SectionId, };
