// Made by `cargo xtask types`.
import type { LaneTarget } from "./LaneTarget";
import type { Polarity } from "./Polarity";
import type { Processor } from "./Processor";
import type { StripId } from "./StripId";
import type { StripKind } from "./StripKind";
import type { StripSend } from "./StripSend";

/**
 * Signal order: input, trim and polarity, chain, width, pan, fader, mute, output.
 */
export type Strip = { 
/**
 * Its id.
 */
id: StripId, 
/**
 * What it is.
 */
kind: StripKind, 
/**
 * Up to 80 characters; empty on a channel that is called after its voices.
 */
name: string, 
/**
 * -100 (off) to +24 dB.
 */
trim_db: number, 
/**
 * The sign of the sound.
 */
polarity: Polarity, 
/**
 * Frames by which it is played later behind its chain, or earlier, where all else waits for it; for mics, layers and
 * copies that come late by themselves. 0 on main.
 */
offset_frames: number, 
/**
 * Its processors in order.
 */
chain: Array<Processor>, 
/**
 * -100 (off) to +12 dB.
 */
fader_db: number, 
/**
 * -100 % (left) to +100 % (right).
 */
pan_percent: number, 
/**
 * 0 % (mono) to 200 %; 100 % is unchanged.
 */
width_percent: number, 
/**
 * Whether it is silent.
 */
mute: boolean, 
/**
 * Whether only it and its like are heard.
 */
solo: boolean, 
/**
 * Goes on while others are soloed.
 */
solo_safe: boolean, 
/**
 * Where it goes; nothing is allowed and silent. Main and triggers have none.
 */
output: StripId | null, 
/**
 * What it sends to returns.
 */
sends: Array<StripSend>, 
/**
 * Of its own, instead of the session's.
 */
target: LaneTarget | null, };
