// Made by `cargo xtask types`.
import type { Section } from "./Section";

/**
 * Name, pattern and length of a section.
 */
export type SetSection = { 
/**
 * As it is to be.
 */
section: Section, };
