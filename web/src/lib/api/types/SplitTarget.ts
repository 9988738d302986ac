// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { Family } from "./Family";
import type { VoiceId } from "./VoiceId";

/**
 * Where notes of a take go.
 */
export type SplitTarget = { "kind": "voice", 
/**
 * That voice.
 */
voice: VoiceId, } | { "kind": "new", 
/**
 * What it is called.
 */
name: string, 
/**
 * Its family.
 */
family: Family, 
/**
 * Whether keys are pitches.
 */
melodic: boolean, 
/**
 * What it plays; empty where not said.
 */
sound: AssetRef | null, };
