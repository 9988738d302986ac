// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";

/**
 * A pattern of whole bars.
 */
export type Pattern = { 
/**
 * Its id.
 */
id: PatternId, 
/**
 * What it is called.
 */
name: string, 
/**
 * At least 1; not longer than a song may be.
 */
bars: number, };
