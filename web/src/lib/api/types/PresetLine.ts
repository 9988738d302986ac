// Made by `cargo xtask types`.
import type { Processor } from "./Processor";

/**
 * A processor or a chain, kept.
 */
export type PresetLine = { id: string, name: string, 
/**
 * One of ours, which cannot be changed or removed.
 */
house: boolean, 
/**
 * One for a preset of a processor, more for one of a chain.
 */
processors: Array<Processor>, };
