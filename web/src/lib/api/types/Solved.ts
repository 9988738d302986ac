// Made by `cargo xtask types`.
import type { DuckFigures } from "./DuckFigures";
import type { Settings } from "./Settings";
import type { SumLevels } from "./SumLevels";

/**
 * What was found.
 */
export type Solved = { 
/**
 * As it has to be set.
 */
settings: Settings, 
/**
 * What it does then.
 */
figures: DuckFigures, 
/**
 * Why it is not quite what was asked for, for people.
 */
short: string | null, 
/**
 * Of a sum that is kept.
 */
sum: SumLevels | null, };
