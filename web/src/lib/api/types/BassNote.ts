// Made by `cargo xtask types`.
import type { NamedPitch } from "./NamedPitch";

/**
 * A note of the bass.
 */
export type BassNote = { 
/**
 * What it was measured at.
 */
pitch: NamedPitch, 
/**
 * How often the song has it.
 */
hits: number, };
