// Made by `cargo xtask types`.
import type { Pass } from "./Pass";

/**
 * A filter of 12 dB per octave whose corner moves with its own level, or with its key's.
 */
export type EnvelopeFilter = { 
/**
 * Corner at silence; kept under 0.49 of the session's rate.
 */
cutoff_hz: number, q: number, 
/**
 * How far the corner goes at full level.
 */
amount_oct: number, 
/**
 * Peak level that counts as full.
 */
full_dbfs: number, attack_ms: number, release_ms: number, pass: Pass, };
