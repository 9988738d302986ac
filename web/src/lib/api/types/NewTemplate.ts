// Made by `cargo xtask types`.
import type { TemplateKeeps } from "./TemplateKeeps";

/**
 * A template to be made of a session.
 */
export type NewTemplate = { session: string, 
/**
 * 1 to 80 characters.
 */
name: string, 
/**
 * Up to 200 characters.
 */
purpose: string, keeps: TemplateKeeps, };
