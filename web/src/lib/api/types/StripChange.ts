// Made by `cargo xtask types`.
import type { LaneTarget } from "./LaneTarget";
import type { Polarity } from "./Polarity";

/**
 * A change of one value of a strip.
 */
export type StripChange = { "what": "trim_db", "to": number } | { "what": "polarity", "to": Polarity } | { "what": "offset_frames", "to": number } | { "what": "fader_db", "to": number } | { "what": "pan_percent", "to": number } | { "what": "width_percent", "to": number } | { "what": "mute", "to": boolean } | { "what": "solo", "to": boolean } | { "what": "solo_safe", "to": boolean } | { "what": "target", "to": LaneTarget | null };
