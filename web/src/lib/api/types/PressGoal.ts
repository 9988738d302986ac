// Made by `cargo xtask types`.

/**
 * What a compressor shall do.
 */
export type PressGoal = { "goal": "back", 
/**
 * 0.05 to 8.
 */
beats: number, } | { "goal": "within", 
/**
 * In dB, 0.1 to 24.
 */
db: number, } | { "goal": "deepest", 
/**
 * In dB, 0.5 to 40.
 */
db: number, };
