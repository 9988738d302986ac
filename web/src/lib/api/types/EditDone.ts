// Made by `cargo xtask types`.
import type { Patch } from "./Patch";

/**
 * A change that went through.
 */
export type EditDone = { revision: number, patch: Patch, can_undo: boolean, can_redo: boolean, };
