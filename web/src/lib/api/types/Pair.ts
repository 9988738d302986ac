// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * A key and what makes room for it.
 */
export type Pair = { 
/**
 * What is heard through.
 */
key: StripId, 
/**
 * What makes room.
 */
target: StripId, };
