// Made by `cargo xtask types`.
import type { Family } from "./Family";

/**
 * A voice for pieces of a loop.
 */
export type PieceVoice = { 
/**
 * What it is called.
 */
name: string, 
/**
 * Its family.
 */
family: Family, };
