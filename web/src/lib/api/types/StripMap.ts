// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * Where a bus or return of the other session ends up.
 */
export type StripMap = { 
/**
 * In the other session.
 */
from: StripId, 
/**
 * Here; made anew where not said.
 */
to: StripId | null, };
