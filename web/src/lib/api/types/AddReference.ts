// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";

/**
 * A recording that the mix is held against; it never reaches main or a stem.
 */
export type AddReference = { 
/**
 * What it is called.
 */
name: string, 
/**
 * Its sound, added where it is new.
 */
asset: AssetRef, };
