// Made by `cargo xtask types`.
import type { DuckHit } from "./DuckHit";
import type { Opening } from "./Opening";

/**
 * What a ducker does over a stretch.
 */
export type DuckFigures = { 
/**
 * Hits of the key in order.
 */
hits: Array<DuckHit>, 
/**
 * The most that is ever taken away, in dB.
 */
depth_db: number, 
/**
 * The mean of what is taken away, in dB.
 */
average_db: number, 
/**
 * Hits after which it is not back before the next.
 */
late: number, 
/**
 * The shortest recovery of all hits that duck; nothing where none does, or one is never back.
 */
recovery_ms: number | null, 
/**
 * Whether one is never back, or not on its way there when the next hit comes.
 */
stuck: boolean, 
/**
 * Of one that its key opens: how. It has no hits that duck, and is not back from them.
 */
opening: Opening | null, };
