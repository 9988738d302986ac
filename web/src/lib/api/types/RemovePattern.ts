// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";

/**
 * A pattern that no section plays.
 */
export type RemovePattern = { 
/**
 * That to go.
 */
pattern: PatternId, };
