// Made by `cargo xtask types`.
import type { Insertion } from "./Insertion";

/**
 * Lanes of another session or a template, with their chains, buses, returns and sends.
 */
export type InsertLanes = { 
/**
 * The other session, and which of its lanes.
 */
insertion: Insertion, };
