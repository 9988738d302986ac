// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * Strips that go to one bus.
 */
export type BusGroup = { 
/**
 * A bus of this name is used where there is one.
 */
name: string, 
/**
 * What goes to the bus.
 */
strips: Array<StripId>, };
