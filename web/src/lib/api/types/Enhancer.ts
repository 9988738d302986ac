// Made by `cargo xtask types`.

/**
 * Low and high enhancement. At 0 % it is transparent.
 */
export type Enhancer = { 
/**
 * What lies under this gets harmonics over it.
 */
low_hz: number, low_percent: number, 
/**
 * What lies over this, up to 6 kHz, gets harmonics over it.
 */
high_hz: number, high_percent: number, };
