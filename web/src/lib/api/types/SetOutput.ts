// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * Where strips go; nothing is allowed.
 */
export type SetOutput = { 
/**
 * The strips.
 */
strips: Array<StripId>, 
/**
 * Where they go.
 */
output: StripId | null, };
