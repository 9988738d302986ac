// Made by `cargo xtask types`.
import type { TargetBy } from "./TargetBy";

/**
 * What a lane is to reach after trim.
 */
export type LaneTarget = { 
/**
 * What is held against it.
 */
by: TargetBy, 
/**
 * -60 to 0 in the target's unit.
 */
db: number, };
