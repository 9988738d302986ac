// Made by `cargo xtask types`.

/**
 * What tells the sounds of a take apart.
 */
export type NoteKey = { track: number, channel: number, key: number, };
