// Made by `cargo xtask types`.
import type { Blend } from "./Blend";
import type { Comb } from "./Comb";
import type { FoundBlend } from "./FoundBlend";
import type { PathReading } from "./PathReading";
import type { PressSolved } from "./PressSolved";
import type { ReturnBench } from "./ReturnBench";

/**
 * What was heard of parallel paths; of a question, its answer alone.
 */
export type Pathed = { 
/**
 * How every return lies against what feeds it.
 */
returns: Array<PathReading>, 
/**
 * How lanes lie against the first of them.
 */
lanes: Array<PathReading>, 
/**
 * What the first two lanes do to each other.
 */
comb: Comb | null, 
/**
 * What was found of the return that is looked at.
 */
bench: ReturnBench | null, 
/**
 * Settings that were asked for.
 */
solved: PressSolved | null, 
/**
 * The highest blend within a budget.
 */
found: FoundBlend | null, 
/**
 * The blend at the level that was asked for.
 */
at: Blend | null, };
