// Made by `cargo xtask types`.

/**
 * Beats in a bar and the note value of a beat, as in 4/4 or 6/8.
 */
export type Metre = { 
/**
 * Beats in a bar, 1 to 32.
 */
beats: number, 
/**
 * Note value of a beat: 2, 4, 8 or 16.
 */
unit: number, };
