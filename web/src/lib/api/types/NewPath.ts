// Made by `cargo xtask types`.
import type { Processor } from "./Processor";
import type { StripId } from "./StripId";

/**
 * A new return with processors, off until its fader is raised; rows feed it at full level before their faders, with
 * their width and pan. On the mix bus, or on main where the mix bus feeds it; numbered where its name is taken.
 */
export type NewPath = { 
/**
 * What it is called.
 */
name: string, 
/**
 * What feeds it.
 */
feeders: Array<StripId>, 
/**
 * As they are given; they get ids of their own.
 */
processors: Array<Processor>, };
