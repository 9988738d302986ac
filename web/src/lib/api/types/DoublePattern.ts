// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";

/**
 * A pattern twice as long that plays its hits twice.
 */
export type DoublePattern = { 
/**
 * That to grow.
 */
pattern: PatternId, };
