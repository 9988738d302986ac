// Made by `cargo xtask types`.
import type { MovedValue } from "./MovedValue";
import type { StripId } from "./StripId";

/**
 * A value of one or more strips, moved by the same amount, so that they keep their balance. Where one comes to its
 * limit all stop; what is off stays off, unless all are.
 */
export type MoveValues = { 
/**
 * The strips.
 */
strips: Array<StripId>, 
/**
 * Which value.
 */
value: MovedValue, 
/**
 * In the value's unit; in octaves where it runs by ratio.
 */
by: number, };
