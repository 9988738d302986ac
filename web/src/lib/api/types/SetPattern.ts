// Made by `cargo xtask types`.
import type { Pattern } from "./Pattern";

/**
 * Name and length of a pattern; hits behind a new end are dropped.
 */
export type SetPattern = { 
/**
 * As it is to be.
 */
pattern: Pattern, };
