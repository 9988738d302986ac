// Made by `cargo xtask types`.
import type { Verdict } from "./Verdict";

/**
 * How the second of two sounds lies against the first.
 */
export type Alignment = { 
/**
 * What is to be said.
 */
verdict: Verdict, 
/**
 * Frames by which the second comes later, to a tenth; negative where it comes earlier.
 */
delay_frames: number, 
/**
 * Whether it is of the other polarity there.
 */
inverted: boolean, 
/**
 * Correlation there, 0 to 1.
 */
correlation: number, 
/**
 * Correlation as they are, -1 to 1.
 */
now: number, 
/**
 * By how much the sum of both, made equally loud, gains once they are in time and of one polarity, in dB.
 */
gain_db: number, };
