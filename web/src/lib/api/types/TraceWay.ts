// Made by `cargo xtask types`.
import type { TraceStep } from "./TraceStep";

/**
 * One way to main.
 */
export type TraceWay = { 
/**
 * Strip after strip, from the lane on.
 */
steps: Array<TraceStep>, 
/**
 * What a small steady sound gains on it; nothing where it is stopped.
 */
gain_db: number | null, };
