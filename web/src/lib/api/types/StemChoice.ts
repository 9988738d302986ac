// Made by `cargo xtask types`.
import type { StripId } from "./StripId";
import type { Tap } from "./Tap";

/**
 * One strip of the plan.
 */
export type StemChoice = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * Where its sound is taken.
 */
tap: Tap, };
