// Made by `cargo xtask types`.
import type { StripId } from "./StripId";
import type { StripKind } from "./StripKind";
import type { Tap } from "./Tap";

/**
 * One stem.
 */
export type StemSpec = { strip: StripId, 
/**
 * The strip's name.
 */
name: string, kind: StripKind, tap: Tap, 
/**
 * With its ending.
 */
file_name: string, };
