// Made by `cargo xtask types`.

/**
 * A piece of a loop, cut out as a hit of its own.
 */
export type Piece = { 
/**
 * The frame of the loop at which it begins.
 */
start_frame: number, 
/**
 * The first frame that is not part of it.
 */
end_frame: number, 
/**
 * Index of the voice it goes to.
 */
voice: number, };
