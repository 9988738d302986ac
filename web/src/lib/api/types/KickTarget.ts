// Made by `cargo xtask types`.

/**
 * A note for the kick, and the way there.
 */
export type KickTarget = { 
/**
 * A note without its octave, such as "F".
 */
note: string, 
/**
 * Where it comes from, for people; empty for notes that nothing in the session speaks for.
 */
reason: string, 
/**
 * Cents up to the next such note, 0 to below 1200.
 */
up_ct: number, 
/**
 * Cents down to it, above -1200 to 0.
 */
down_ct: number, };
