// Made by `cargo xtask types`.
import type { SnapshotFigures } from "./SnapshotFigures";

/**
 * What changes of a snapshot: its name, or what was measured of it later.
 */
export type SnapshotChange = { name: string | null, figures: SnapshotFigures | null, };
