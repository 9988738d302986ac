// Made by `cargo xtask types`.
import type { AssetId } from "./AssetId";
import type { Hold } from "./Hold";
import type { Layer } from "./Layer";

/**
 * What a voice plays.
 */
export type VoiceSource = { "kind": "empty" } | { "kind": "one_shot", 
/**
 * Sounding together.
 */
layers: Array<Layer>, 
/**
 * How long a hit sounds.
 */
hold: Hold, } | { "kind": "recording", 
/**
 * The audio.
 */
asset: AssetId, 
/**
 * Where it starts, in sample frames from bar 1.
 */
start_frame: number, };
