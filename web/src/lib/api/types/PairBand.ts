// Made by `cargo xtask types`.

/**
 * Two sounds in one band.
 */
export type PairBand = { 
/**
 * Lower end in Hz.
 */
from_hz: number, 
/**
 * Upper end in Hz.
 */
to_hz: number, 
/**
 * The key's mean power in dBFS, -120 for silence.
 */
key_dbfs: number, 
/**
 * The target's without the ducker.
 */
target_dbfs: number, 
/**
 * The target's with it.
 */
ducked_dbfs: number, 
/**
 * Of all that they share without the ducker, what lies here, in per cent.
 */
shared_percent: number, };
