// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";

/**
 * A pattern of whole bars.
 */
export type Pattern = { id: PatternId, name: string, 
/**
 * 1 to 512.
 */
bars: number, };
