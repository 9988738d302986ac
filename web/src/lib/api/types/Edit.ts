// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { Family } from "./Family";
import type { Header } from "./Header";
import type { Hit } from "./Hit";
import type { NewVoice } from "./NewVoice";
import type { Pattern } from "./Pattern";
import type { PatternId } from "./PatternId";
import type { Section } from "./Section";
import type { SectionId } from "./SectionId";
import type { StemPlan } from "./StemPlan";
import type { StripChange } from "./StripChange";
import type { StripId } from "./StripId";
import type { Take } from "./Take";
import type { TakeSound } from "./TakeSound";
import type { VoiceId } from "./VoiceId";
import type { VoiceSource } from "./VoiceSource";

/**
 * One intent of a person.
 */
export type Edit = { "kind": "set_header", header: Header, } | { "kind": "add_voices", voices: Array<NewVoice>, assets: Array<AssetRef>, } | { "kind": "remove_voices", voices: Array<VoiceId>, } | { "kind": "rename_voice", voice: VoiceId, name: string, } | { "kind": "set_family", voice: VoiceId, family: Family, } | { "kind": "move_voice", voice: VoiceId, to: number, } | { "kind": "set_source", voice: VoiceId, source: VoiceSource, assets: Array<AssetRef>, } | { "kind": "set_hits", pattern: PatternId, voice: VoiceId, hits: Array<Hit>, } | { "kind": "add_pattern", name: string, bars: number, copy_of: PatternId | null, } | { "kind": "set_pattern", pattern: Pattern, } | { "kind": "remove_pattern", pattern: PatternId, } | { "kind": "add_section", name: string, pattern: PatternId, bars: number, at: number, } | { "kind": "set_section", section: Section, } | { "kind": "remove_section", section: SectionId, } | { "kind": "move_section", section: SectionId, to: number, } | { "kind": "add_take", take: Take, sounds: Array<TakeSound>, } | { "kind": "rename_strip", strip: StripId, name: string, } | { "kind": "set_strips", strips: Array<StripId>, change: StripChange, } | { "kind": "set_output", strips: Array<StripId>, output: StripId | null, } | { "kind": "own_channels", voices: Array<VoiceId>, } | { "kind": "share_channel", voices: Array<VoiceId>, channel: StripId, } | { "kind": "new_bus", name: string, feeders: Array<StripId>, } | { "kind": "remove_bus", bus: StripId, } | { "kind": "set_stem_plan", plan: StemPlan, } | { "kind": "batch", edits: Array<Edit>, };
