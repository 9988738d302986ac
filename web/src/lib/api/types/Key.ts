// Made by `cargo xtask types`.
import type { SendTap } from "./SendTap";
import type { StripId } from "./StripId";

/**
 * What a processor listens to instead of its own input. Mute and solo of the source do not touch it.
 */
export type Key = { 
/**
 * Nothing where the source was removed: the key is then silent.
 */
source: StripId | null, 
/**
 * Strips beside it, whose sounds are added.
 */
also: [StripId | null, StripId | null, StripId | null], 
/**
 * In front of the source's fader or behind it.
 */
tap: SendTap, 
/**
 * -100 (off) to +24 dB.
 */
level_db: number, 
/**
 * 0 (off) to 20,000 Hz.
 */
high_pass_hz: number, 
/**
 * 0 (off) to 20,000 Hz.
 */
low_pass_hz: number, 
/**
 * How much softer hits are made as loud as hard ones: 0 (not at all) to 100 %; of lanes and triggers whose hits are
 * known.
 */
even_percent: number, 
/**
 * Softer hits are not heard, 1 (all are) to 127; of lanes and triggers whose hits are known.
 */
least_velocity: number, };
