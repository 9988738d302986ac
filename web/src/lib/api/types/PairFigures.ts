// Made by `cargo xtask types`.
import type { PairBand } from "./PairBand";

/**
 * What a ducker's key and its target are to each other; of two values, the first is without the ducker.
 */
export type PairFigures = { 
/**
 * Per cent of the target's energy that lies where the key is near it; nothing where they never sound together.
 */
overlap_percent: [number, number] | null, 
/**
 * Of both together, in dBFS.
 */
peak_dbfs: [number, number], 
/**
 * Of both together, in LUFS.
 */
loudness_lufs: [number, number], 
/**
 * Of the key alone, in dBFS; -150 where it is never heard, as a trigger.
 */
key_peak_dbfs: number, 
/**
 * What is lost of the target's energy, in dB.
 */
lost_db: number, 
/**
 * Band by band, from low to high.
 */
bands: Array<PairBand>, 
/**
 * The band that holds most of what they share, in Hz; nothing where none does.
 */
shared_hz: [number, number] | null, 
/**
 * Seconds from the start of the stretch that this is about.
 */
seconds: number, 
/**
 * Whether what comes after the ducker listens to something else, so that the figures with it are near alone.
 */
near: boolean, };
