// Made by `cargo xtask types`.
import type { ProcessorId } from "./ProcessorId";

/**
 * What is passed by to compare how it sounds without.
 */
export type Bypass = { 
/**
 * Processors, each with the level in dB at which the sound goes past it.
 */
processors: Array<[ProcessorId, number]>, 
/**
 * Level of main in dB.
 */
main_db: number, };
