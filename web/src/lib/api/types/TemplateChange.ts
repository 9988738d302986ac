// Made by `cargo xtask types`.
import type { TemplateSource } from "./TemplateSource";

/**
 * What a template is called, and a session to take over where one is given.
 */
export type TemplateChange = { name: string, purpose: string, from: TemplateSource | null, };
