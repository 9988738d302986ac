// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";

/**
 * A new section at a place of the song, counted from 0.
 */
export type AddSection = { 
/**
 * What it is called.
 */
name: string, 
/**
 * What it plays.
 */
pattern: PatternId, 
/**
 * How long it is.
 */
bars: number, 
/**
 * Its place, from 0.
 */
at: number, };
