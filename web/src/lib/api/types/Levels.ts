// Made by `cargo xtask types`.
import type { Measured } from "./Measured";
import type { Proposal } from "./Proposal";
import type { Repair } from "./Repair";
import type { Suggestion } from "./Suggestion";
import type { SumLine } from "./SumLine";

/**
 * What a run over all stations found, and what follows from it.
 */
export type Levels = { 
/**
 * What every station carries.
 */
measured: Measured, 
/**
 * Trims that bring every lane to its target.
 */
proposal: Proposal, 
/**
 * What comes together, and how loud that is.
 */
sums: Array<SumLine>, 
/**
 * What is worth a look.
 */
suggestions: Array<Suggestion>, 
/**
 * What brings the sum to its target, where it is not there.
 */
sum_repair: Repair | null, };
