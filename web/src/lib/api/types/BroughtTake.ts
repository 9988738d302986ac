// Made by `cargo xtask types`.
import type { Take } from "./Take";
import type { TakeSound } from "./TakeSound";

/**
 * A MIDI take that was read.
 */
export type BroughtTake = { take: Take, sounds: Array<TakeSound>, };
