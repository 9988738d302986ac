// Made by `cargo xtask types`.

/**
 * What is heard around a ducker, over the stretch as a listener has it: all of it in time with the hits.
 */
export type DuckerWaves = { 
/**
 * The key's peaks, linear, from the first to the last part of the stretch; the same parts for all. Nothing where it
 * has no key.
 */
key: Array<number>, 
/**
 * The sound's before; nothing where it was not in focus.
 */
before: Array<number>, 
/**
 * The sound's behind; nothing where it was not in focus.
 */
behind: Array<number>, 
/**
 * The most that is taken away, in dB.
 */
reduction_db: Array<number>, };
