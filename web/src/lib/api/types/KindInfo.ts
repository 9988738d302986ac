// Made by `cargo xtask types`.
import type { BandInfo } from "./BandInfo";
import type { Choice } from "./Choice";
import type { Param } from "./Param";
import type { Settings } from "./Settings";

/**
 * One kind of processor.
 */
export type KindInfo = { name: string, params: Array<Param>, choices: Array<Choice>, takes_key: boolean, 
/**
 * Whether it takes gain away by the level.
 */
reduces: boolean, 
/**
 * Where it has bands instead of values of its own.
 */
bands: BandInfo | null, default: Settings, };
