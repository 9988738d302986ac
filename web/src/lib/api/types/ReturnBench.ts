// Made by `cargo xtask types`.
import type { Blend } from "./Blend";
import type { Comb } from "./Comb";
import type { Press } from "./Press";
import type { StripId } from "./StripId";

/**
 * What was found of the return, the bus or main that is looked at.
 */
export type ReturnBench = { 
/**
 * Which it is.
 */
strip: StripId, 
/**
 * What raising it brings, of a return.
 */
blend: Blend | null, 
/**
 * What its first compressor does.
 */
press: Press | null, 
/**
 * What a return does to the spectrum of what feeds it, at its level; at 0 dB while it is off.
 */
comb: Comb | null, };
