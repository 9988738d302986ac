// Made by `cargo xtask types`.
import type { Bands } from "./Bands";

/**
 * How one side sounds over the loop, before anything is matched; nothing where it is silent.
 */
export type SideFigures = { 
/**
 * Integrated loudness after ITU-R BS.1770-5.
 */
lufs: number | null, 
/**
 * The highest short-term loudness, in LUFS.
 */
short_term_lufs: number | null, 
/**
 * In dBTP.
 */
true_peak_dbtp: number | null, 
/**
 * Sample peak over the mean, in dB.
 */
crest_db: number | null, 
/**
 * Mean power in octaves.
 */
octaves: Bands, 
/**
 * How long what was heard is, in seconds.
 */
seconds: number, 
/**
 * Momentary loudness in LUFS, evenly over what was heard.
 */
momentary_lufs: Array<number | null>, };
