// Made by `cargo xtask types`.
import type { Alignment } from "./Alignment";
import type { StripId } from "./StripId";

/**
 * How a strip lies against another sound.
 */
export type PathReading = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * How it lies.
 */
alignment: Alignment, };
