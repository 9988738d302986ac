// Made by `cargo xtask types`.
import type { SnapshotFigures } from "./SnapshotFigures";

/**
 * A snapshot to be taken.
 */
export type NewSnapshot = { name: string, 
/**
 * Whether somebody takes it, rather than the program.
 */
by_hand: boolean, figures: SnapshotFigures, };
