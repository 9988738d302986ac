// Made by `cargo xtask types`.

/**
 * The change of one list of entities.
 */
export type Change<T> = { 
/**
 * Entities that are new or different, as they are now.
 */
set: Array<T>, 
/**
 * Where every entity keeps its place: the places of those of `set`.
 */
at?: Array<number>, 
/**
 * Else the length of the list now, and for each place where its entity comes from: an index into the old
 * list, or `old length + n` for the n-th of `set`.
 */
order?: Array<number>, };
