// Made by `cargo xtask types`.
import type { AssetId } from "./AssetId";
import type { Goal } from "./Goal";
import type { PathsAsked } from "./PathsAsked";
import type { PressGoal } from "./PressGoal";
import type { ProcessorId } from "./ProcessorId";
import type { VoiceId } from "./VoiceId";
import type { Way } from "./Way";

/**
 * What is asked.
 */
export type Question = { "about": "levels", 
/**
 * Whether all processors are passed by.
 */
without: boolean, } | { "about": "duckers", 
/**
 * The one that is looked at.
 */
focus: ProcessorId | null, 
/**
 * What it shall do; else all are heard.
 */
goal: Goal | null, 
/**
 * Whether a way to make room is looked for, where it stands and takes nothing away yet.
 */
room: boolean, } | { "about": "paths", 
/**
 * What is looked at.
 */
asked: PathsAsked, 
/**
 * What its first compressor shall do.
 */
goal: PressGoal | null, 
/**
 * The budget of peak in dB that its highest blend is looked for in.
 */
budget_db: number | null, 
/**
 * Another level of it in dB, of which the figures are asked for.
 */
fader_db: number | null, } | { "about": "side", 
/**
 * Whether all processors are left out.
 */
without: boolean, } | { "about": "side_recording", 
/**
 * Its address.
 */
asset: AssetId, 
/**
 * How it goes along with the song.
 */
way: Way, } | { "about": "recorded", 
/**
 * Whose.
 */
voice: VoiceId, } | { "about": "tuning", 
/**
 * The kick.
 */
kick: VoiceId, 
/**
 * The bass, where there is one.
 */
bass: VoiceId | null, } | { "about": "cuts", 
/**
 * Whose sound.
 */
voice: VoiceId, 
/**
 * How faint a hit is found, 0 to 1.
 */
sensitivity: number, };
