// Made by `cargo xtask types`.
import type { OutlineStrip } from "./OutlineStrip";

/**
 * A template in the list: enough for its picture and for choosing.
 */
export type TemplateLine = { id: string, name: string, purpose: string, 
/**
 * One of ours, which cannot be changed or removed.
 */
house: boolean, 
/**
 * Channels, triggers, returns, buses, main, in the order of the board.
 */
strips: Array<OutlineStrip>, lanes: number, has_audio: boolean, has_patterns: boolean, };
