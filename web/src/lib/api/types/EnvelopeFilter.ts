// Made by `cargo xtask types`.
import type { Pass } from "./Pass";
import type { TimeIn } from "./TimeIn";

/**
 * A filter of 12 dB per octave whose corner moves with its own level, or with its key's.
 */
export type EnvelopeFilter = { 
/**
 *Corner: 20.0 to 20000.0 Hz.
 * Corner at silence; kept under 0.49 of the session's rate.
 */
cutoff_hz: number, 
/**
 *Resonance: 0.5 to 20.0 Q.
 */
q: number, 
/**
 *Envelope: -8.0 to 8.0 oct.
 * How far the corner goes at full level.
 */
amount_oct: number, 
/**
 *Full at: -60.0 to 0.0 dBFS.
 * Peak level that counts as full.
 */
full_dbfs: number, 
/**
 *Attack: 0.1 to 250.0 ms.
 */
attack_ms: number, 
/**
 *Release: 5.0 to 2500.0 ms.
 */
release_ms: number, 
/**
 *Lets through.
 */
pass: Pass, 
/**
 *Attack in.
 */
attack_in: TimeIn, 
/**
 *Release in.
 */
release_in: TimeIn, };
