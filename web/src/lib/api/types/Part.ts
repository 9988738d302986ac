// Made by `cargo xtask types`.
import type { Hit } from "./Hit";
import type { PatternId } from "./PatternId";
import type { VoiceId } from "./VoiceId";

/**
 * The hits of one voice in one pattern, in order of time, then pitch.
 */
export type Part = { pattern: PatternId, voice: VoiceId, hits: Array<Hit>, };
