// Made by `cargo xtask types`.
import type { Hit } from "./Hit";
import type { Humanise } from "./Humanise";
import type { PatternId } from "./PatternId";
import type { VoiceId } from "./VoiceId";

/**
 * The hits of one voice in one pattern, in order of time, then pitch.
 */
export type Part = { 
/**
 * The pattern.
 */
pattern: PatternId, 
/**
 * The voice.
 */
voice: VoiceId, 
/**
 * In order of time.
 */
hits: Array<Hit>, 
/**
 * A loop of its own: after so many ticks the part starts again, through the whole section. The pattern's
 * length where not said.
 */
loop_ticks?: number, 
/**
 * Small variations when it is played.
 */
humanise?: Humanise, };
