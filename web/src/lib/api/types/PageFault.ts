// Made by `cargo xtask types`.

/**
 * What a page came to grief over.
 */
export type PageFault = { 
/**
 * What was thrown.
 */
what: string, 
/**
 * Where in the page.
 */
whereabouts: string, };
