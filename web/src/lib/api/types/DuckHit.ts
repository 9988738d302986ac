// Made by `cargo xtask types`.

/**
 * What one hit of the key does to the sound.
 */
export type DuckHit = { 
/**
 * Frames from the start of the stretch.
 */
at: number, 
/**
 * The most that is taken away before the next hit, in dB.
 */
depth_db: number, 
/**
 * From the hit to the deepest point, in ms; negative where a lookahead is there before.
 */
full_ms: number, 
/**
 * From the hit until it is back; nothing where that is not before the next hit.
 */
back_ms: number | null, 
/**
 * From there to the next hit; negative where it would be back so much after the next hit, if that were not there.
 * Nothing where it is not falling.
 */
recovery_ms: number | null, };
