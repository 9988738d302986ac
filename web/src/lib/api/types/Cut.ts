// Made by `cargo xtask types`.
import type { PatternId } from "./PatternId";
import type { Piece } from "./Piece";
import type { PieceVoice } from "./PieceVoice";
import type { VoiceId } from "./VoiceId";

/**
 * How a loop is cut.
 */
export type Cut = { 
/**
 * The loop: a recording, or a one-shot whose first layer it is.
 */
voice: VoiceId, 
/**
 * The pattern that gets the hits.
 */
pattern: PatternId, 
/**
 * The tempo at which the loop was played.
 */
loop_bpm: number, 
/**
 * The steps on which pieces are written, in ticks; what is left is kept as a shift.
 */
grid_ticks: number, 
/**
 * In order of time.
 */
pieces: Array<Piece>, 
/**
 * Which pieces point at.
 */
voices: Array<PieceVoice>, };
