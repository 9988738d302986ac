// Made by `cargo xtask types`.
import type { Split } from "./Split";
import type { TakeId } from "./TakeId";

/**
 * A kept take split in another way.
 */
export type SplitTake = { 
/**
 * The take.
 */
take: TakeId, 
/**
 * Which notes go to which voice.
 */
splits: Array<Split>, };
