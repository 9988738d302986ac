// Made by `cargo xtask types`.
import type { Compressor } from "./Compressor";
import type { Gate } from "./Gate";
import type { Utility } from "./Utility";

/**
 * What a processor is and how it is set.
 */
export type Settings = { "kind": "compressor" } & Compressor | { "kind": "gate" } & Gate | { "kind": "utility" } & Utility;
