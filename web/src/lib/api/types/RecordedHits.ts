// Made by `cargo xtask types`.
import type { Hit } from "./Hit";
import type { PatternId } from "./PatternId";

/**
 * Hits that a voice would have in a pattern.
 */
export type RecordedHits = { 
/**
 * The pattern.
 */
pattern: PatternId, 
/**
 * In order.
 */
hits: Array<Hit>, };
