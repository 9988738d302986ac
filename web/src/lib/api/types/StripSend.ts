// Made by `cargo xtask types`.
import type { SendTap } from "./SendTap";
import type { StripId } from "./StripId";

/**
 * A part of a strip's sound that goes to a return. A muted strip sends nothing.
 */
export type StripSend = { 
/**
 * The return; a strip has one send to each.
 */
to: StripId, 
/**
 * In front of the fader or behind it.
 */
tap: SendTap, 
/**
 * -100 (off) to +12 dB.
 */
level_db: number, 
/**
 * -100 % (left) to +100 % (right).
 */
pan_percent: number, 
/**
 * Whether it is silent.
 */
mute: boolean, 
/**
 * Before the fader: whether the sound has the strip's width and pan, as it has behind the fader in any case.
 */
placed: boolean, };
