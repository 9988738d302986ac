// Made by `cargo xtask types`.

/**
 * How a recording goes along.
 */
export type Way = { 
/**
 * Whether it stands where the song stands, instead of going round by itself.
 */
follows: boolean, 
/**
 * Where it follows, the frame of the song that `from` falls on.
 */
start: number, 
/**
 * The first of its frames that is played, and the first that is not any more.
 */
from: number, 
/**
 * See `from`.
 */
to: number, };
