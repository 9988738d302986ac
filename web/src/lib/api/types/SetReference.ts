// Made by `cargo xtask types`.
import type { Reference } from "./Reference";

/**
 * Another name of a reference, other frames of it, or another way to go along; its sound stays.
 */
export type SetReference = { 
/**
 * As it is to be.
 */
reference: Reference, };
