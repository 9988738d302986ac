// Made by `cargo xtask types`.
import type { Band } from "./Band";
import type { Choice } from "./Choice";
import type { Param } from "./Param";

/**
 * The bands of an equaliser.
 */
export type BandInfo = { params: Array<Param>, choices: Array<Choice>, default: Band, 
/**
 * Bands at most.
 */
most: number, };
