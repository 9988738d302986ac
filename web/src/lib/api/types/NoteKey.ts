// Made by `cargo xtask types`.

/**
 * What tells the sounds of a take apart.
 */
export type NoteKey = { 
/**
 * From 0.
 */
track: number, 
/**
 * From 0 to 15.
 */
channel: number, 
/**
 * From 0 to 127.
 */
key: number, };
