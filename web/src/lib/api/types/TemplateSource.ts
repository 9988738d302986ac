// Made by `cargo xtask types`.
import type { TemplateKeeps } from "./TemplateKeeps";

/**
 * A session to take over into a template, and what of it.
 */
export type TemplateSource = { session: string, keeps: TemplateKeeps, };
