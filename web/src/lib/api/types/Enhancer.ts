// Made by `cargo xtask types`.

/**
 * Low and high enhancement. At 0 % it is transparent.
 */
export type Enhancer = { 
/**
 *Lows under: 40.0 to 250.0 Hz.
 * What lies under this gets harmonics over it.
 */
low_hz: number, 
/**
 *Low amount: 0.0 to 100.0 %.
 */
low_percent: number, 
/**
 *Highs over: 1500.0 to 5000.0 Hz.
 * What lies over this, up to 6 kHz, gets harmonics over it.
 */
high_hz: number, 
/**
 *High amount: 0.0 to 100.0 %.
 */
high_percent: number, };
