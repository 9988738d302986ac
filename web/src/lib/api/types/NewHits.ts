// Made by `cargo xtask types`.
import type { Hit } from "./Hit";
import type { PatternId } from "./PatternId";

/**
 * Hits of a new voice in a pattern that exists.
 */
export type NewHits = { 
/**
 * The pattern that they lie in.
 */
pattern: PatternId, 
/**
 * In order of time.
 */
hits: Array<Hit>, };
