// Made by `cargo xtask types`.
import type { AssetId } from "./AssetId";

/**
 * One sample under a voice.
 */
export type Layer = { asset: AssetId, 
/**
 * -100 (off) to +24 dB.
 */
gain_db: number, 
/**
 * -4800 to +4800 ct.
 */
tune_ct: number, };
