// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * What comes together on one strip.
 */
export type SumLine = { 
/**
 * The bus, return or main.
 */
strip: StripId, 
/**
 * Strips that feed it and sound.
 */
feeders: number, 
/**
 * RMS that feeders without anything in common would come to, in dBFS.
 */
expected_dbfs: number | null, 
/**
 * RMS that came together.
 */
measured_dbfs: number | null, 
/**
 * True peak after its fader, in dBTP.
 */
true_peak_dbtp: number | null, };
