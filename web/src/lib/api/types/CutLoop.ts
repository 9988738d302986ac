// Made by `cargo xtask types`.
import type { Cut } from "./Cut";

/**
 * A loop as pieces on voices of their own; the loop itself is muted.
 */
export type CutLoop = { 
/**
 * Pieces, voices and what remains.
 */
cut: Cut, };
