// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * What a strip is called.
 */
export type NameLine = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * Its name; a channel without one of its own is called after its voices.
 */
name: string, };
