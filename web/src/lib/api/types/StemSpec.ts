// Made by `cargo xtask types`.
import type { StripId } from "./StripId";
import type { StripKind } from "./StripKind";
import type { Tap } from "./Tap";

/**
 * One stem.
 */
export type StemSpec = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * The strip's name.
 */
name: string, 
/**
 * What the strip is.
 */
kind: StripKind, 
/**
 * Where its sound is taken.
 */
tap: Tap, 
/**
 * With its ending.
 */
file_name: string, };
