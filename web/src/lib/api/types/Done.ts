// Made by `cargo xtask types`.
import type { Made } from "./Made";
import type { Patch } from "./Patch";

/**
 * An edit as it went through, for whoever made it.
 */
export type Done = { 
/**
 * What somebody had made that went with it though it is not what it is for, in a few words each.
 */
lost: Array<string>, 
/**
 * From the document before to the one after.
 */
there: Patch, 
/**
 * And back.
 */
back: Patch, 
/**
 * What was done, in a few words.
 */
label: string, 
/**
 * What was made, in the order of ids.
 */
made: Array<Made>, };
