// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * A bus or a return; what went to it goes on to another bus, to main, or to nothing.
 */
export type RemoveStrip = { 
/**
 * That to go.
 */
strip: StripId, 
/**
 * Where what went to it goes on to.
 */
feeders_to: StripId | null, };
