// Made by `cargo xtask types`.
import type { TemplateKeeps } from "./TemplateKeeps";

/**
 * A template to be made of a session.
 */
export type NewTemplate = { session: string, name: string, purpose: string, keeps: TemplateKeeps, };
