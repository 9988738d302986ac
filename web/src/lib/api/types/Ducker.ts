// Made by `cargo xtask types`.
import type { DuckFigures } from "./DuckFigures";
import type { ProcessorId } from "./ProcessorId";
import type { StripId } from "./StripId";

/**
 * One ducker with what it does.
 */
export type Ducker = { 
/**
 * Whose sound is ducked.
 */
strip: StripId, 
/**
 * The processor.
 */
processor: ProcessorId, 
/**
 * What it does, hit by hit.
 */
figures: DuckFigures, 
/**
 * Whether its key sounds at all.
 */
keyed: boolean, 
/**
 * Whether there is any sound to duck.
 */
sounds: boolean, };
