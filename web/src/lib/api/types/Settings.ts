// Made by `cargo xtask types`.
import type { Clipper } from "./Clipper";
import type { Compressor } from "./Compressor";
import type { Crush } from "./Crush";
import type { Equaliser } from "./Equaliser";
import type { Gate } from "./Gate";
import type { Saturation } from "./Saturation";
import type { Transient } from "./Transient";
import type { Utility } from "./Utility";

/**
 * What a processor is and how it is set.
 */
export type Settings = { "kind": "equaliser" } & Equaliser | { "kind": "compressor" } & Compressor | { "kind": "gate" } & Gate | { "kind": "transient" } & Transient | { "kind": "saturation" } & Saturation | { "kind": "clipper" } & Clipper | { "kind": "crush" } & Crush | { "kind": "utility" } & Utility;
