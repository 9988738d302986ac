// Made by `cargo xtask types`.
import type { AssetId } from "./AssetId";
import type { ReferenceId } from "./ReferenceId";

/**
 * A recording to be held against the mix, past everything that the session does.
 */
export type Reference = { 
/**
 * Its id.
 */
id: ReferenceId, 
/**
 * What it is called.
 */
name: string, 
/**
 * Its sound.
 */
asset: AssetId, 
/**
 * Whether it goes along with the song, instead of going round by itself.
 */
follows: boolean, 
/**
 * Where it follows, the bar of the song that `from_frame` falls on, from 0.
 */
start_bar: number, 
/**
 * The first of its frames that is played.
 */
from_frame: number, 
/**
 * The first that is not played any more.
 */
to_frame: number, };
