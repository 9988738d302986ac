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
q: number, shape: Shape, slope: Slope, switch: Switch, };
