// Made by `cargo xtask types`.
import type { Processor } from "./Processor";

/**
 * A processor or a chain to be kept. Keys are left out.
 */
export type NewPreset = { name: string, processors: Array<Processor>, };
