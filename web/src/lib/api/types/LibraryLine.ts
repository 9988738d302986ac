// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { Family } from "./Family";
import type { NamedPitch } from "./NamedPitch";

/**
 * A sample of the library.
 */
export type LibraryLine = { name: string, family: Family, asset: AssetRef, peak_dbfs: number, 
/**
 * None where it has no clear pitch.
 */
pitch: NamedPitch | null, };
