// Made by `cargo xtask types`.
import type { Key } from "./Key";
import type { ReadyChain } from "./ReadyChain";
import type { Settings } from "./Settings";

/**
 * What is offered whatever a session holds.
 */
export type Ready = { 
/**
 * Chains, in the order in which they are offered.
 */
chains: Array<ReadyChain>, 
/**
 * A key as it begins; what it hears is still to be said.
 */
key: Key, 
/**
 * Strips that a key hears at most.
 */
key_sources: number, 
/**
 * A ducker that lets its key be heard clearly at once, to be backed off by ear.
 */
ducker: Settings, };
