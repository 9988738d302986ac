// Made by `cargo xtask types`.
import type { Repair } from "./Repair";

/**
 * One thing worth a look.
 */
export type Check = { 
/**
 * Stays the same while the thing is there, so that it can be dismissed.
 */
key: string, sentence: string, repair: Repair | null, dismissed: boolean, };
