// Made by `cargo xtask types`.
import type { Edit } from "./Edit";

/**
 * An edit of the revision that its author saw.
 */
export type EditRequest = { base_revision: number, edit: Edit, };
