// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";

/**
 * A pattern of whole bars.
 */
export type Pattern = { id: PatternId, name: string, 
/**
 * At least 1; not longer than a song may be.
 */
bars: number, };
