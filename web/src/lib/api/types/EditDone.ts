// Made by `cargo xtask types`.
import type { ChangeKind } from "./ChangeKind";
import type { Made } from "./Made";
import type { Patch } from "./Patch";

/**
 * A change that went through.
 */
export type EditDone = { id: string, 
/**
 * The revision that it gave.
 */
revision: number, kind: ChangeKind, 
/**
 * The step that was made, undone or done again.
 */
step: string, label: string, 
/**
 * Left out where it went through too long ago.
 */
patch: Patch | null, 
/**
 * The way back of an edit.
 */
back: Patch | null, made: Array<Made> | null, 
/**
 * Whether it had gone through before it was asked for now.
 */
again: boolean, };
