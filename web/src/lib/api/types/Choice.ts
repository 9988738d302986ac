// Made by `cargo xtask types`.

/**
 * One choice of a processor.
 */
export type Choice = { 
/**
 * The field in the settings.
 */
name: string, 
/**
 * The word on screens.
 */
label: string, 
/**
 * Value in the settings, word on screens.
 */
options: Array<[string, string]>, };
