// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { Family } from "./Family";

/**
 * Audio that was kept.
 */
export type BroughtSound = { name: string, family: Family, asset: AssetRef, 
/**
 * Its highest sample in dBFS, -200 of silence.
 */
peak_dbfs: number, 
/**
 * Frames since midnight at which it starts, where a Broadcast Wave file says so.
 */
time_reference: number | null, 
/**
 * What is missing in it or was taken otherwise, for people.
 */
remarks: Array<string>, };
