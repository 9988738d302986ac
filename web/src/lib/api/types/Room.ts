// Made by `cargo xtask types`.
import type { Alternative } from "./Alternative";
import type { RoomProposal } from "./RoomProposal";

/**
 * What was found about a pair.
 */
export type Room = { 
/**
 * Per cent of the target's energy that is shared.
 */
overlap_percent: number, 
/**
 * What is worth trying first, since they take from each other.
 */
first: Alternative | null, 
/**
 * A ducker that would make room; nothing where there is none to make.
 */
proposal: RoomProposal | null, 
/**
 * Why there is none, for people.
 */
short: string | null, };
