// Made by `cargo xtask types`.
import type { DuckKind } from "./DuckKind";
import type { Settings } from "./Settings";

/**
 * A kind of ducker for screens.
 */
export type DuckKindInfo = { 
/**
 * Which.
 */
kind: DuckKind, 
/**
 * What it is called.
 */
name: string, 
/**
 * Settings as it begins.
 */
default: Settings, };
