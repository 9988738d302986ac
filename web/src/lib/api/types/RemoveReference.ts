// Made by `cargo xtask types`.
import type { ReferenceId } from "./ReferenceId";

/**
 * A reference is no longer held against.
 */
export type RemoveReference = { 
/**
 * Which.
 */
reference: ReferenceId, };
