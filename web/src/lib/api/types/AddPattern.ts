// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";

/**
 * A new pattern; with `copy_of`, its hits too.
 */
export type AddPattern = { 
/**
 * What it is called.
 */
name: string, 
/**
 * How long it is.
 */
bars: number, 
/**
 * Whose hits it begins with.
 */
copy_of: PatternId | null, };
