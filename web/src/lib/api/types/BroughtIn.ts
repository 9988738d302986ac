// Made by `cargo xtask types`.
import type { BroughtSound } from "./BroughtSound";
import type { BroughtTake } from "./BroughtTake";

/**
 * What a dropped file turned out to be.
 */
export type BroughtIn = { "kind": "one_shot" } & BroughtSound | { "kind": "recording" } & BroughtSound | { "kind": "midi" } & BroughtTake;
