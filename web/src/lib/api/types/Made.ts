// Made by `cargo xtask types`.
import type { Thing } from "./Thing";

/**
 * Something that an edit made.
 */
export type Made = { 
/**
 * What it is.
 */
thing: Thing, 
/**
 * Its id.
 */
id: number, };
