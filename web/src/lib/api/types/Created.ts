// Made by `cargo xtask types`.

/**
 * The id of something new.
 */
export type Created = { id: string, 
/**
 * What was put right in what came, for people.
 */
remarks: Array<string>, };
