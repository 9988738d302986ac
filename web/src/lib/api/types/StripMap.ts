// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * Where a bus or return of the other session ends up, or what a strip is here that is not brought in and keys listen to.
 */
export type StripMap = { 
/**
 * In the other session.
 */
from: StripId, 
/**
 * Here; made anew where not said, which what keys listen to never is.
 */
to: StripId | null, };
