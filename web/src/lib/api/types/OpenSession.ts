// Made by `cargo xtask types`.
import type { Session } from "./Session";
import type { StepLine } from "./StepLine";

/**
 * A session as it stands.
 */
export type OpenSession = { id: string, document: Session, revision: number, 
/**
 * Steps that can be undone, the next one first.
 */
undo: Array<StepLine>, 
/**
 * Steps that can be done again, the next one first.
 */
redo: Array<StepLine>, renders_started: number, 
/**
 * What was put right in the document since an older program let it through, for people.
 */
remarks: Array<string>, };
