// Made by `cargo xtask types`.

/**
 * A clipper. The curve itself keeps the ceiling; the filter behind it, without which the sharp corners would fold
 * back, can lift single samples over it again, by less than 1.2 dB. Holding these too would fold back.
 */
export type Clipper = { 
/**
 *Ceiling: -36.0 to 0.0 dBFS.
 */
ceiling_dbfs: number, 
/**
 *Hardness: 0.0 to 100.0 %.
 * From a soft curve, which bends early, to straight clipping.
 */
hardness_percent: number, };
