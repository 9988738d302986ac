// Made by `cargo xtask types`.
import type { Repair } from "./Repair";
import type { TraceStep } from "./TraceStep";

/**
 * A lane's way to main.
 */
export type Trace = { 
/**
 * The whole in a sentence.
 */
sentence: string, 
/**
 * Whether something stops the sound.
 */
silent: boolean, repair: Repair | null, steps: Array<TraceStep>, };
