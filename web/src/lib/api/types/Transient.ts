// Made by `cargo xtask types`.

/**
 * A transient shaper.
 */
export type Transient = { 
/**
 *Attack: -18.0 to 18.0 dB.
 * What the beginning of a hit gains.
 */
attack_db: number, 
/**
 *Sustain: -24.0 to 24.0 dB.
 * What its ringing gains.
 */
sustain_db: number, 
/**
 *Speed: 2.0 to 80.0 ms.
 * How long a beginning counts as one.
 */
speed_ms: number, 
/**
 *Ring: 20.0 to 1000.0 ms.
 * How long a hit rings that counts as short.
 */
ring_ms: number, };
