// Made by `cargo xtask types`.
import type { Edit } from "./Edit";

/**
 * An edit of the revision that its author saw.
 */
export type EditRequest = { 
/**
 * What its author knows it by; sent again under it, it happens once.
 */
id: string, base_revision: number, edit: Edit, };
