// Made by `cargo xtask types`.
import type { StripId } from "./StripId";
import type { StripSend } from "./StripSend";

/**
 * The same send on one or more strips, instead of what they send there.
 */
export type SetSend = { 
/**
 * The strips that send.
 */
strips: Array<StripId>, 
/**
 * Where to, and how.
 */
send: StripSend, };
