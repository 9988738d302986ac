// Made by `cargo xtask types`.

/**
 * What would do without ducking.
 */
export type Alternative = { "way": "polarity", 
/**
 * By how much louder both together are then, in dB.
 */
gain_db: number, } | { "way": "delay", 
/**
 * In frames, up to 10 ms.
 */
frames: number, 
/**
 * By how much louder both together are then, in dB.
 */
gain_db: number, };
