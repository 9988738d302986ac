// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { Family } from "./Family";

/**
 * Audio that was kept.
 */
export type BroughtSound = { name: string, family: Family, asset: AssetRef, };
