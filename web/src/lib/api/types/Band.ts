// Made by `cargo xtask types`.
import type { Shape } from "./Shape";
import type { Slope } from "./Slope";
import type { Switch } from "./Switch";
import type { TimeIn } from "./TimeIn";

/**
 * One band.
 */
export type Band = { 
/**
 *Frequency: 10.0 to 22000.0 Hz.
 * Corner or centre; kept under 0.49 of the session's rate.
 */
freq_hz: number, 
/**
 *Gain: -24.0 to 24.0 dB.
 * Of bells and shelves.
 */
gain_db: number, 
/**
 *Q: 0.1 to 40.0 .
 * Of bells, shelves and notches, and of passes of 12 dB per octave.
 */
q: number, 
/**
 *Moves by: -24.0 to 24.0 dB.
 * How far the gain of a bell or shelf moves at most, as the level in the band goes over the threshold by as
 * much; 0 for a band that does not move.
 */
range_db: number, 
/**
 *From: -80.0 to 0.0 dBFS.
 * In the band: what a bell's own band-pass, or what lies on a shelf's side of its corner, peaks at.
 */
threshold_dbfs: number, 
/**
 *Attack: 0.1 to 250.0 ms.
 */
attack_ms: number, 
/**
 *Release: 5.0 to 2500.0 ms.
 */
release_ms: number, 
/**
 *Shape.
 */
shape: Shape, 
/**
 *Slope.
 */
slope: Slope, 
/**
 *Heard.
 */
switch: Switch, 
/**
 *Attack in.
 */
attack_in: TimeIn, 
/**
 *Release in.
 */
release_in: TimeIn, };
