// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * One station of the walk.
 */
export type TraceStep = { strip: StripId, name: string, 
/**
 * Why nothing passes here.
 */
stop: string | null, };
