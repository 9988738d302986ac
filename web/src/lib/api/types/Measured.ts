// Made by `cargo xtask types`.
import type { StripLevels } from "./StripLevels";

/**
 * What a measuring run found.
 */
export type Measured = { 
/**
 * In the order in which they are computed; main is the last.
 */
strips: Array<StripLevels>, 
/**
 * Frames that were measured.
 */
frames: number, };
