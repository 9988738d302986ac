// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";
import type { Take } from "./Take";
import type { TakeGroup } from "./TakeGroup";
import type { TakeId } from "./TakeId";

/**
 * A take as it came. It makes no sound itself; its voices play copies of its notes.
 */
export type KeptTake = { 
/**
 * Its id.
 */
id: TakeId, 
/**
 * As it came.
 */
take: Take, 
/**
 * The pattern that holds its hits.
 */
pattern: PatternId, 
/**
 * What its sounds became.
 */
groups: Array<TakeGroup>, };
