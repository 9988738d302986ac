// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * A new return on the mix bus, with sends from strips at 0 dB after their faders; numbered where its name is taken.
 */
export type NewReturn = { 
/**
 * What it is called.
 */
name: string, 
/**
 * What sends to it.
 */
feeders: Array<StripId>, 
/**
 * With its fader off, to be raised by ear.
 */
silent: boolean, };
