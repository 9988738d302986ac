// Made by `cargo xtask types`.
import type { Settings } from "./Settings";

/**
 * Settings as somebody had them before and after: what differs between the two is what was moved.
 */
export type Moved = { 
/**
 * Before.
 */
from: Settings, 
/**
 * After.
 */
to: Settings, };
