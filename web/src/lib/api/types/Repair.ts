// Made by `cargo xtask types`.
import type { Edit } from "./Edit";

/**
 * What can be done about a finding.
 */
export type Repair = { 
/**
 * A short command, such as "Unmute Tops".
 */
name: string, 
/**
 * What mends it.
 */
edit: Edit, };
