// Made by `cargo xtask types`.
import type { Family } from "./Family";

/**
 * A sound or a part of a take that comes in.
 */
export type Incoming = { 
/**
 * What it is called.
 */
name: string, 
/**
 * Its family.
 */
family: Family, };
