// Made by `cargo xtask types`.
import type { Station } from "./Station";

/**
 * What one station of a strip carries over the loop.
 */
export type StationLevels = { 
/**
 * Where it was heard.
 */
station: Station, 
/**
 * In dBFS; nothing where it is silent, as with the rest.
 */
sample_peak_dbfs: number | null, 
/**
 * Between samples as well, in dBTP.
 */
true_peak_dbtp: number | null, 
/**
 * Of both sides over the whole loop, in dBFS: what sums are made of.
 */
rms_dbfs: number | null, 
/**
 * The same only where it sounds, gated as loudness is: blocks of 0.4 s, those under -70 dBFS and those 10 dB under the
 * rest left out.
 */
sounding_dbfs: number | null, 
/**
 * Integrated loudness after ITU-R BS.1770-5.
 */
lufs: number | null, };
