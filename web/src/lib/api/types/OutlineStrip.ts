// Made by `cargo xtask types`.
import type { StripId } from "./StripId";
import type { StripKind } from "./StripKind";

/**
 * One strip in the picture of a template.
 */
export type OutlineStrip = { id: StripId, kind: StripKind, name: string, output: StripId | null, sends: Array<StripId>, };
