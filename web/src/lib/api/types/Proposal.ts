// Made by `cargo xtask types`.
import type { TrimLine } from "./TrimLine";

/**
 * Trims for every lane that sounds.
 */
export type Proposal = { 
/**
 * Strip by strip.
 */
lines: Array<TrimLine>, 
/**
 * Lanes that were silent over the loop.
 */
silent: Array<string>, };
