// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * A strip under another name; a channel without one is called after its voices.
 */
export type RenameStrip = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * Its new name.
 */
name: string, };
