// Made by `cargo xtask types`.

/**
 * What becomes of one list.
 */
export type TakenPieces<T> = { 
/**
 * Pieces as they are to be: instead of those of the same key, or new.
 */
set: Array<T>, 
/**
 * Keys of those that go.
 */
gone: Array<[number, number]>, 
/**
 * Keys in the order that they are to have, where that changes; what is not named stays behind what it stands behind.
 */
order: Array<[number, number]>, };
