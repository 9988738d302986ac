// Made by `cargo xtask types`.
import type { Session } from "./Session";

/**
 * A template whole, at the rate of the session that asks for it.
 */
export type OpenTemplate = { name: string, purpose: string, document: Session, };
