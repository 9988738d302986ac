// Made by `cargo xtask types`.
import type { Shape } from "./Shape";
import type { Slope } from "./Slope";
import type { Switch } from "./Switch";

/**
 * One band.
 */
export type Band = { 
/**
 * Corner or centre; kept under 0.49 of the session's rate.
 */
freq_hz: number, 
/**
 * Of bells and shelves.
 */
gain_db: number, 
/**
 * Of bells, shelves and notches, and of passes of 12 dB per octave.
 */
q: number, 
/**
 * How far the gain of a bell or shelf moves at most, as the level in the band goes over the threshold by as
 * much; 0 for a band that does not move.
 */
range_db: number, 
/**
 * In the band: what a bell's own band-pass, or what lies on a shelf's side of its corner, peaks at.
 */
threshold_dbfs: number, attack_ms: number, release_ms: number, shape: Shape, slope: Slope, switch: Switch, };
