// Made by `cargo xtask types`.
import type { AssetId } from "./AssetId";
import type { ProcessorId } from "./ProcessorId";
import type { StripId } from "./StripId";
import type { VoiceId } from "./VoiceId";

/**
 * What is asked about.
 */
export type TraceQuestion = { 
/**
 * A lane's voice; none for the strip alone.
 */
voice: VoiceId | null, 
/**
 * One layer of it, counted from 0.
 */
layer: number | null, 
/**
 * The strip whose ways are asked for.
 */
strip: StripId, 
/**
 * Bars in which hits are looked for, counted from 0.
 */
from_bar: number, 
/**
 * Bars of the loop.
 */
bars: number, 
/**
 * Audio that is not there any more.
 */
missing: Array<AssetId>, 
/**
 * Audio that could not be had yet, and is asked for again.
 */
late: Array<AssetId>, 
/**
 * Gates that were seen shut all along while sound came to them.
 */
shut: Array<ProcessorId>, };
