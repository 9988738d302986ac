// Made by `cargo xtask types`.
import type { Session } from "./Session";

/**
 * A session as it stands.
 */
export type OpenSession = { id: string, document: Session, revision: number, can_undo: boolean, can_redo: boolean, renders_started: number, };
