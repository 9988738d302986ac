// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { NewVoice } from "./NewVoice";

/**
 * Voices, each on a channel of its own. `assets` are added where they are new.
 */
export type AddVoices = { 
/**
 * In the order of the board.
 */
voices: Array<NewVoice>, 
/**
 * Audio that they name.
 */
assets: Array<AssetRef>, };
