// Made by `cargo xtask types`.
import type { BandInfo } from "./BandInfo";
import type { Choice } from "./Choice";
import type { Mix } from "./Mix";
import type { Param } from "./Param";
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
 * What its mix means.
 */
mix: Mix, 
/**
 * Where it has bands instead of values of its own.
 */
bands: BandInfo | null, 
/**
 * Settings as they begin.
 */
default: Settings, };
