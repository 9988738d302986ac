// Made by `cargo xtask types`.
import type { StripId } from "./StripId";
import type { Tap } from "./Tap";

/**
 * One strip of the plan.
 */
export type StemChoice = { strip: StripId, tap: Tap, };
