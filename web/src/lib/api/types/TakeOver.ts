// Made by `cargo xtask types`.
import type { Taken } from "./Taken";

/**
 * What is taken over from another state of the same session.
 */
export type TakeOver = { 
/**
 * What it is, in a few words.
 */
name: string, 
/**
 * The pieces.
 */
taken: Taken, };
