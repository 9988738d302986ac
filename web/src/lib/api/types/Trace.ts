// Made by `cargo xtask types`.
import type { Repair } from "./Repair";
import type { TraceWay } from "./TraceWay";

/**
 * A lane's ways to main.
 */
export type Trace = { 
/**
 * The whole in a sentence or two.
 */
sentence: string, 
/**
 * Whether nothing of it is heard.
 */
silent: boolean, 
/**
 * Whether that is meant.
 */
on_purpose: boolean, repair: Repair | null, 
/**
 * The way along outputs first, then those that begin with a send.
 */
ways: Array<TraceWay>, };
