// Made by `cargo xtask types`.
import type { BusGroup } from "./BusGroup";

/**
 * Buses for groups of strips in one step, made where they are missing.
 */
export type GroupOnBuses = { 
/**
 * Buses with what goes to them.
 */
groups: Array<BusGroup>, };
