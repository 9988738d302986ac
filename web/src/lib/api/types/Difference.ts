// Made by `cargo xtask types`.
import type { DifferenceKind } from "./DifferenceKind";
import type { Edit } from "./Edit";
import type { StripId } from "./StripId";

/**
 * One difference.
 */
export type Difference = { 
/**
 * Names it as long as both states are as they are.
 */
key: string, 
/**
 * The row that it is about; nothing where it is about the whole.
 */
strip: StripId | null, 
/**
 * Other rows that it changes too.
 */
also: Array<StripId>, 
/**
 * What it is about.
 */
kind: DifferenceKind, 
/**
 * How it is now.
 */
now: string, 
/**
 * How it is in the other state.
 */
then: string, 
/**
 * What takes it over.
 */
edit: Edit, };
