// Made by `cargo xtask types`.
import type { LaneTarget } from "./LaneTarget";
import type { StripId } from "./StripId";

/**
 * One lane with the trim that meets its target.
 */
export type TrimLine = { strip: StripId, name: string, target: LaneTarget, trim_before_db: number, trim_after_db: number, 
/**
 * Level after trim, in what the target is given in.
 */
level_before_db: number, level_after_db: number, 
/**
 * Whether the trim would change by enough to be heard of.
 */
changes: boolean, };
