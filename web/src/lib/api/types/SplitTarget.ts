// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { Family } from "./Family";
import type { VoiceId } from "./VoiceId";

/**
 * Where notes of a take go.
 */
export type SplitTarget = { "kind": "voice", voice: VoiceId, } | { "kind": "new", name: string, family: Family, 
/**
 * Whether keys are pitches.
 */
melodic: boolean, sound: AssetRef | null, };
