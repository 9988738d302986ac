// Made by `cargo xtask types`.

/**
 * Small variations of each hit, the same for the same seed. Taking it away gives the straight part back.
 */
export type Humanise = { 
/**
 * What the dice begin with.
 */
seed: number, 
/**
 * Up to so much earlier or later, 0 to 50 ms.
 */
time_ms: number, 
/**
 * Up to so much softer or louder, 0 to 12 dB.
 */
level_db: number, 
/**
 * Up to so much lower or higher, 0 to 100 ct.
 */
tune_ct: number, };
