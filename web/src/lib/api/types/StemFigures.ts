// Made by `cargo xtask types`.

/**
 * What was measured of one stem.
 */
export type StemFigures = { 
/**
 * Sample peak in dBFS; -200 for silence.
 */
peak_dbfs: number, 
/**
 * Integrated loudness; nothing where it is under the gate.
 */
integrated_lufs: number | null, 
/**
 * Samples over full scale.
 */
overs: number, };
