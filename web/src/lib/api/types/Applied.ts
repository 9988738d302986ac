// Made by `cargo xtask types`.
import type { Patch } from "./Patch";

/**
 * An edit as it went through.
 */
export type Applied = { 
/**
 * From the document before to the one after.
 */
there: Patch, 
/**
 * And back.
 */
back: Patch, };
