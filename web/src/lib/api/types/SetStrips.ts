// Made by `cargo xtask types`.
import type { StripChange } from "./StripChange";
import type { StripId } from "./StripId";

/**
 * The same change on one or more strips.
 */
export type SetStrips = { 
/**
 * The strips.
 */
strips: Array<StripId>, 
/**
 * What changes.
 */
change: StripChange, };
