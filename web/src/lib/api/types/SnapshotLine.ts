// Made by `cargo xtask types`.
import type { SnapshotFigures } from "./SnapshotFigures";

/**
 * A snapshot in the list.
 */
export type SnapshotLine = { id: string, name: string, 
/**
 * Whether somebody took it, rather than the program.
 */
by_hand: boolean, taken_at: string, figures: SnapshotFigures, 
/**
 * What it takes in the database.
 */
bytes: number, };
