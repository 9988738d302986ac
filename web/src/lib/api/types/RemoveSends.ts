// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * What strips send to a return, taken out.
 */
export type RemoveSends = { 
/**
 * The strips that send.
 */
strips: Array<StripId>, 
/**
 * The return.
 */
to: StripId, };
