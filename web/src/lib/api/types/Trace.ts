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
on_purpose: boolean, 
/**
 * The first repair of any way that is stopped.
 */
repair: Repair | null, 
/**
 * The way along outputs first, then those that begin with a send.
 */
ways: Array<TraceWay>, };
