// Made by `cargo xtask types`.
import type { Band } from "./Band";
import type { Choice } from "./Choice";
import type { Param } from "./Param";

/**
 * The bands of an equaliser.
 */
export type BandInfo = { 
/**
 * What is allowed of its values.
 */
params: Array<Param>, 
/**
 * What can be chosen.
 */
choices: Array<Choice>, 
/**
 * A band as it begins.
 */
default: Band, 
/**
 * Bands at most.
 */
most: number, };
