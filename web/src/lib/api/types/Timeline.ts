// Made by `cargo xtask types`.
import type { BarPlace } from "./BarPlace";

/**
 * The time grid of a session, for screens.
 */
export type Timeline = { 
/**
 * Ticks in a beat of the metre.
 */
beat_ticks: number, 
/**
 * Ticks in a bar.
 */
bar_ticks: number, 
/**
 * Sample frames that a tick takes.
 */
frames_per_tick: number, 
/**
 * Bars that a song, a section or a pattern may have in this metre.
 */
most_bars: number, 
/**
 * Bars of the song in order.
 */
bars: Array<BarPlace>, };
