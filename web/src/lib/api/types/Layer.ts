// Made by `cargo xtask types`.
import type { AssetId } from "./AssetId";
import type { Decay } from "./Decay";
import type { FadeIn } from "./FadeIn";
import type { PitchSweep } from "./PitchSweep";

/**
 * One sample under a voice.
 */
export type Layer = { 
/**
 * The audio.
 */
asset: AssetId, 
/**
 * -100 (off) to +24 dB.
 */
gain_db: number, 
/**
 * -4800 to +4800 ct.
 */
tune_ct: number, 
/**
 * How much later than the hit it begins, 0 to 500 ms.
 */
delay_ms: number, 
/**
 * The first frame of the sample that is played.
 */
start_frame: number, 
/**
 * The first frame that is not played any more; the whole sample where not said.
 */
end_frame: number | null, 
/**
 * Whether it plays backwards.
 */
reverse: boolean, 
/**
 * How it begins.
 */
fade_in: FadeIn, 
/**
 * How it falls, where it is not left alone.
 */
decay: Decay | null, 
/**
 * How its pitch moves, where it does.
 */
sweep: PitchSweep | null, 
/**
 * How much velocity moves the level: 0 (not at all) to 100 % (with the square of velocity).
 */
velocity_percent: number, };
