// Made by `cargo xtask types`.
import type { AssetId } from "./AssetId";

/**
 * What a document knows of one piece of audio without having it at hand.
 */
export type AssetRef = { 
/**
 * The address of its samples.
 */
id: AssetId, 
/**
 * The file name it came with.
 */
name: string, 
/**
 * 1 or 2.
 */
channels: number, 
/**
 * In Hz; equals the session's rate.
 */
sample_rate: number, 
/**
 * Length in frames.
 */
frames: number, };
