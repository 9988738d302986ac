// Made by `cargo xtask types`.

/**
 * A soft saturation. Even at no drive it is filtered at four times the rate, which changes the passband by less
 * than 0.01 dB.
 */
export type Saturation = { 
/**
 *Drive: 0.0 to 36.0 dB.
 * Into the curve, and out of it again, so that soft parts stay as loud as they are.
 */
drive_db: number, 
/**
 *Hardness: 0.0 to 100.0 %.
 * From a soft curve to straight clipping.
 */
hardness_percent: number, };
