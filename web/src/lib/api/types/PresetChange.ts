// Made by `cargo xtask types`.
import type { Processor } from "./Processor";

/**
 * What a preset is called, and what it holds where that changes.
 */
export type PresetChange = { name: string, processors: Array<Processor> | null, };
