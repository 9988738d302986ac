// Made by `cargo xtask types`.
import type { StripId } from "./StripId";

/**
 * Which value moves.
 */
export type MovedValue = { "what": "trim_db" } | { "what": "fader_db" } | { "what": "pan_percent" } | { "what": "width_percent" } | { "what": "send_db", 
/**
 * The return.
 */
to: StripId, } | { "what": "send_pan_percent", 
/**
 * The return.
 */
to: StripId, } | { "what": "processor", 
/**
 * The kind, as documents name it.
 */
kind: string, 
/**
 * The value, as the kind declares it: its name; in octaves where it runs by ratio.
 */
value: string, } | { "what": "input_db", 
/**
 * The kind, as documents name it.
 */
kind: string, } | { "what": "output_db", 
/**
 * The kind, as documents name it.
 */
kind: string, } | { "what": "mix_percent", 
/**
 * The kind, as documents name it.
 */
kind: string, };
