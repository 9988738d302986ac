// Made by `cargo xtask types`.

/**
 * A transient shaper.
 */
export type Transient = { 
/**
 * What the beginning of a hit gains.
 */
attack_db: number, 
/**
 * What its ringing gains.
 */
sustain_db: number, 
/**
 * How long a beginning counts as one.
 */
speed_ms: number, 
/**
 * How long a hit rings that counts as short.
 */
ring_ms: number, };
