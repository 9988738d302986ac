// Made by `cargo xtask types`.
import type { Repair } from "./Repair";

/**
 * One thing worth a look.
 */
export type Check = { 
/**
 * Stays the same while the thing is there, so that it can be dismissed.
 */
key: string, 
/**
 * What is worth a look.
 */
sentence: string, 
/**
 * An edit that mends it, where one does.
 */
repair: Repair | null, 
/**
 * Whether a person put it out of sight.
 */
dismissed: boolean, };
