// Made by `cargo xtask types`.

/**
 * What a change did to the steps of a session.
 */
export type ChangeKind = "edit" | "undo" | "redo";
