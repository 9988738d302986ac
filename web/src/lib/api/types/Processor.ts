// Made by `cargo xtask types`.
import type { Key } from "./Key";
import type { ProcessorId } from "./ProcessorId";
import type { Settings } from "./Settings";

/**
 * A processor in a chain.
 */
export type Processor = { 
/**
 * Its id.
 */
id: ProcessorId, 
/**
 * Whether it acts.
 */
on: boolean, 
/**
 * -60 to +24 dB.
 */
input_db: number, 
/**
 * -60 to +24 dB.
 */
output_db: number, 
/**
 * 0 % (untouched) to 100 %; of an equaliser how much of the gains of bells and shelves acts.
 */
mix_percent: number, 
/**
 * Its own input where not said.
 */
key: Key | null, 
/**
 * What it is and how it is set.
 */
settings: Settings, };
