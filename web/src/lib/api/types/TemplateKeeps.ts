// Made by `cargo xtask types`.

/**
 * What a template keeps beside lanes, names, routing and the stem plan.
 */
export type TemplateKeeps = { 
/**
 * The samples of layers, and recordings.
 */
audio: boolean, 
/**
 * Patterns, hits, takes and the song.
 */
patterns: boolean, 
/**
 * Trims, faders, pans, widths, mutes and send levels.
 */
levels: boolean, 
/**
 * Processors.
 */
chains: boolean, };
