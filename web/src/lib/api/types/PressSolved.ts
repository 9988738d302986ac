// Made by `cargo xtask types`.
import type { ProcessorId } from "./ProcessorId";
import type { Settings } from "./Settings";

/**
 * How it has to be set.
 */
export type PressSolved = { 
/**
 * The compressor.
 */
processor: ProcessorId, 
/**
 * Its settings.
 */
settings: Settings, 
/**
 * The gain in front of it, in dB.
 */
input_db: number, 
/**
 * What it does then.
 */
deepest_db: number, 
/**
 * How soon it is back then, in beats.
 */
back_beats: number | null, 
/**
 * Why it is not quite what was asked for, for people.
 */
short: string | null, };
