// Made by `cargo xtask types`.

/**
 * A check out of sight, or in sight again.
 */
export type DismissCheck = { 
/**
 * Which.
 */
key: string, 
/**
 * Whether it is out of sight.
 */
dismissed: boolean, };
