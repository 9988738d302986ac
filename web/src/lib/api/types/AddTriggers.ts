// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { NewVoice } from "./NewVoice";

/**
 * Voices as triggers that only feed keys. `assets` are added where they are new.
 */
export type AddTriggers = { 
/**
 * In the order of the board.
 */
voices: Array<NewVoice>, 
/**
 * Audio that they name.
 */
assets: Array<AssetRef>, };
