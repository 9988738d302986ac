// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * What shall be found out.
 */
export type PathsAsked = { 
/**
 * The return, the bus or main that is looked at.
 */
path: StripId | null, 
/**
 * Lanes, returns or buses that are held against the first of them.
 */
lanes: Array<StripId>, };
