// Made by `cargo xtask types`.
import type { NamedPitch } from "./NamedPitch";

/**
 * A note of the bass.
 */
export type BassNote = { pitch: NamedPitch, 
/**
 * How often the song has it.
 */
hits: number, };
