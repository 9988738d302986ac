// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";

/**
 * A ready sound for a lane of a take.
 */
export type TakeSound = { lane: string, asset: AssetRef, };
