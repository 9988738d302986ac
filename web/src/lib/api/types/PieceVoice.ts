// Made by `cargo xtask types`.
import type { Family } from "./Family";

/**
 * A voice for pieces of a loop.
 */
export type PieceVoice = { name: string, family: Family, };
