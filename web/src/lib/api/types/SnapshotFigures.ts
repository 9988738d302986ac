// Made by `cargo xtask types`.

/**
 * What was measured of main over the loop when a snapshot was taken.
 */
export type SnapshotFigures = { lufs: number | null, 
/**
 * The highest of the loop.
 */
short_term_lufs: number | null, true_peak_dbtp: number | null, crest_db: number | null, };
