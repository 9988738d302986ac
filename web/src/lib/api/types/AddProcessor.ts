// Made by `cargo xtask types`.
import type { Key } from "./Key";
import type { Settings } from "./Settings";
import type { StripId } from "./StripId";

/**
 * The same processor in one or more chains, at a place counted from 0, or at their ends.
 */
export type AddProcessor = { 
/**
 * The strips.
 */
strips: Array<StripId>, 
/**
 * What it is and how it is set.
 */
settings: Settings, 
/**
 * What it listens to.
 */
key: Key | null, 
/**
 * The place, from 0; the end where not said.
 */
at: number | null, };
