// Made by `cargo xtask types`.

/**
 * What a ducker shall do.
 */
export type Goal = { "goal": "depth", 
/**
 * In dB, 0 to 60.
 */
db: number, } | { "goal": "recovery" };
