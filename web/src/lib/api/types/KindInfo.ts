// Made by `cargo xtask types`.
import type { BandInfo } from "./BandInfo";
import type { Choice } from "./Choice";
import type { Mix } from "./Mix";
import type { Param } from "./Param";
import type { PointInfo } from "./PointInfo";
import type { Settings } from "./Settings";

/**
 * One kind of processor.
 */
export type KindInfo = { 
/**
 * The trade's word.
 */
name: string, 
/**
 * What is allowed of its values.
 */
params: Array<Param>, 
/**
 * What can be chosen.
 */
choices: Array<Choice>, 
/**
 * Whether it can listen to another sound.
 */
takes_key: boolean, 
/**
 * Whether it takes gain away by the level.
 */
reduces: boolean, 
/**
 * Whether it moves a filter by the level; how far is counted in semitones.
 */
sweeps: boolean, 
/**
 * Whether it goes by the song's place, so that it works without hearing anything.
 */
keeps_time: boolean, 
/**
 * What its mix means.
 */
mix: Mix, 
/**
 * Where it has points beside its values.
 */
points: PointInfo | null, 
/**
 * Where it has bands instead of values of its own.
 */
bands: BandInfo | null, 
/**
 * Settings as they begin.
 */
default: Settings, };
