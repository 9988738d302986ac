// Made by `cargo xtask types`.
import type { Figures } from "./Figures";
import type { StemSpec } from "./StemSpec";
import type { Warning } from "./Warning";

/**
 * What came of a render.
 */
export type RenderReport = { stems: Array<StemSpec>, figures: Figures, warnings: Array<Warning>, 
/**
 * The frame of the song that the files begin at.
 */
from: number, frames: number, 
/**
 * All files together.
 */
bytes: number, };
