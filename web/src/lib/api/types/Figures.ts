// Made by `cargo xtask types`.
import type { StemFigures } from "./StemFigures";

/**
 * What was measured of a whole render.
 */
export type Figures = { 
/**
 * In the order of the stems.
 */
stems: Array<StemFigures>, 
/**
 * True peak of main in dBTP.
 */
main_true_peak_dbtp: number, 
/**
 * Peak of the sum of channel and return stems less main, all as written, in dBFS; nothing where none of
 * them was tapped after its fader.
 */
sum_minus_main_dbfs: number | null, 
/**
 * Channels and returns that are not in that sum.
 */
not_in_sum: Array<string>, 
/**
 * Of what that sum is made of and main: those that went over full scale and were cut off there by the depth, so that
 * the sum cannot fit.
 */
cut_off: Array<string>, };
