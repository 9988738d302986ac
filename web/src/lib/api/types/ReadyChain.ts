// Made by `cargo xtask types`.
import type { Processor } from "./Processor";
import type { ReadyPlace } from "./ReadyPlace";

/**
 * A ready chain.
 */
export type ReadyChain = { 
/**
 * Where it is offered.
 */
place: ReadyPlace, 
/**
 * What a path with it is called; the same word for other places, each its own there.
 */
name: string, 
/**
 * What it does, in few words.
 */
text: string, 
/**
 * Its processors; their ids are made where they come into a chain.
 */
processors: Array<Processor>, };
