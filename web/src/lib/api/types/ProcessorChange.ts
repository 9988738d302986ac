// Made by `cargo xtask types`.
import type { Key } from "./Key";
import type { Moved } from "./Moved";
import type { Settings } from "./Settings";

/**
 * A change of one processor.
 */
export type ProcessorChange = { "what": "settings", "to": Settings } | { "what": "moved", "to": Moved } | { "what": "on", "to": boolean } | { "what": "input_db", "to": number } | { "what": "output_db", "to": number } | { "what": "mix_percent", "to": number } | { "what": "key", "to": Key | null };
