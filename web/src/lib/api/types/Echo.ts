// Made by `cargo xtask types`.

/**
 * One echo, for pictures.
 */
export type Echo = { 
/**
 * Behind the sound.
 */
at_s: number, 
/**
 * Against the sound, its filters left out.
 */
level_db: number, 
/**
 * Of both sides of a sound in the middle, which one it stands on: -1 left, 1 right, 0 both.
 */
side: number, };
