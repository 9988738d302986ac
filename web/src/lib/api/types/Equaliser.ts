// Made by `cargo xtask types`.
import type { Band } from "./Band";

/**
 * An equaliser. Without bands, or with bells and shelves at 0 dB, it is transparent.
 */
export type Equaliser = { 
/**
 * Up to 16, in the order in which they are listed; the order makes no difference to the sound.
 */
bands: Array<Band>, };
