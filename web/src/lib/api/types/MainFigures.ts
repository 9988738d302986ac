// Made by `cargo xtask types`.

/**
 * Figures of main over the stretch, before its limiter.
 */
export type MainFigures = { 
/**
 * In dBFS; nothing where it is silent, as with the rest.
 */
sample_peak_dbfs: number | null, 
/**
 * In dBTP.
 */
true_peak_dbtp: number | null, 
/**
 * Integrated loudness after ITU-R BS.1770-5.
 */
lufs: number | null, 
/**
 * Sample peak over the mean of both sides, in dB.
 */
crest_db: number | null, };
