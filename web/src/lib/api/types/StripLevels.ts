// Made by `cargo xtask types`.
import type { Bands } from "./Bands";
import type { StationLevels } from "./StationLevels";
import type { StripId } from "./StripId";

/**
 * What one strip carries.
 */
export type StripLevels = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * In the order of the signal.
 */
stations: Array<StationLevels>, 
/**
 * Spectrum after trim.
 */
spectrum: Bands, };
