// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * A new bus that takes the strips and goes where the first of them went; numbered where its name is taken.
 */
export type NewBus = { 
/**
 * What it is called.
 */
name: string, 
/**
 * What goes to it.
 */
feeders: Array<StripId>, };
