// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * One strip of a way.
 */
export type TraceStep = { 
/**
 * The strip.
 */
strip: StripId, 
/**
 * Its name.
 */
name: string, 
/**
 * Whether it is reached by a send.
 */
by_send: boolean, 
/**
 * Why nothing passes here.
 */
stop: string | null, 
/**
 * Frames after a hit at which its sound is at this strip's input.
 */
arrives: number, 
/**
 * And behind its chain.
 */
leaves: number, };
