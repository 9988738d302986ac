// Made by `cargo xtask types`.
import type { Depth } from "./Depth";
import type { StemChoice } from "./StemChoice";
import type { StemRange } from "./StemRange";
import type { StripId } from "./StripId";
import type { Tap } from "./Tap";

/**
 * The plan for tracking out.
 */
export type StemPlan = { 
/**
 * Strips left out; all other channels and main are in.
 */
without: Array<StripId>, 
/**
 * Buses that are in.
 */
with_buses: Array<StripId>, 
/**
 * The tap of every stem that `taps` does not name.
 */
tap: Tap, 
/**
 * Strips with a tap of their own.
 */
taps: Array<StemChoice>, 
/**
 * The part of the song.
 */
range: StemRange, 
/**
 * Whether sounds that begin in the range are written to their end.
 */
tail: boolean, 
/**
 * The numbers in the files.
 */
depth: Depth, 
/**
 * File name pattern; see `stems::labels`.
 */
label: string, 
/**
 * Whether limiters of main act on what is written of it.
 */
with_limiter: boolean, };
