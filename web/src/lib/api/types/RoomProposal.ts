// Made by `cargo xtask types`.
import type { PairFigures } from "./PairFigures";
import type { Settings } from "./Settings";

/**
 * A ducker that is proposed.
 */
export type RoomProposal = { 
/**
 * How it is set.
 */
settings: Settings, 
/**
 * What it takes away at its deepest, in dB.
 */
depth_db: number, 
/**
 * What it works on in Hz; nothing for the whole sound.
 */
band_hz: [number, number] | null, 
/**
 * Recovery before the next hit at its shortest, in ms; nothing where it is not known.
 */
recovery_ms: number | null, 
/**
 * What becomes of both.
 */
figures: PairFigures, };
