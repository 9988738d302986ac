// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * Another bus, or main, where the mix comes together and new rows go.
 */
export type SetMixBus = { 
/**
 * A bus, or main.
 */
strip: StripId, };
