// Made by `cargo xtask types`.
import type { AssetRef } from "./AssetRef";
import type { BarRange } from "./BarRange";
import type { BusGroup } from "./BusGroup";
import type { Cut } from "./Cut";
import type { Family } from "./Family";
import type { Header } from "./Header";
import type { Hit } from "./Hit";
import type { HitsChange } from "./HitsChange";
import type { Humanise } from "./Humanise";
import type { Insertion } from "./Insertion";
import type { Key } from "./Key";
import type { NewVoice } from "./NewVoice";
import type { Pattern } from "./Pattern";
import type { PatternId } from "./PatternId";
import type { Processor } from "./Processor";
import type { ProcessorChange } from "./ProcessorChange";
import type { ProcessorId } from "./ProcessorId";
import type { Section } from "./Section";
import type { SectionId } from "./SectionId";
import type { Settings } from "./Settings";
import type { Split } from "./Split";
import type { StemPlan } from "./StemPlan";
import type { StripChange } from "./StripChange";
import type { StripId } from "./StripId";
import type { StripSend } from "./StripSend";
import type { Swing } from "./Swing";
import type { Take } from "./Take";
import type { TakeId } from "./TakeId";
import type { TakeSound } from "./TakeSound";
import type { VoiceId } from "./VoiceId";
import type { VoiceSource } from "./VoiceSource";

/**
 * One intent of a person.
 */
export type Edit = { "kind": "set_header", header: Header, } | { "kind": "add_voices", voices: Array<NewVoice>, assets: Array<AssetRef>, } | { "kind": "remove_voices", voices: Array<VoiceId>, } | { "kind": "rename_voice", voice: VoiceId, name: string, } | { "kind": "set_family", voice: VoiceId, family: Family, } | { "kind": "move_voice", voice: VoiceId, to: number, } | { "kind": "set_source", voice: VoiceId, source: VoiceSource, assets: Array<AssetRef>, } | { "kind": "set_hits", pattern: PatternId, voice: VoiceId, hits: Array<Hit>, } | { "kind": "add_pattern", name: string, bars: number, copy_of: PatternId | null, } | { "kind": "set_pattern", pattern: Pattern, } | { "kind": "remove_pattern", pattern: PatternId, } | { "kind": "add_section", name: string, pattern: PatternId, bars: number, at: number, } | { "kind": "set_section", section: Section, } | { "kind": "give_pattern", section: SectionId, copy: boolean, } | { "kind": "remove_section", section: SectionId, } | { "kind": "move_section", section: SectionId, to: number, } | { "kind": "change_hits", pattern: PatternId, voices: Array<VoiceId>, range: BarRange, change: HitsChange, } | { "kind": "set_loop", pattern: PatternId, voices: Array<VoiceId>, ticks: number | null, } | { "kind": "humanise", pattern: PatternId, voices: Array<VoiceId>, by: Humanise | null, } | { "kind": "double_pattern", pattern: PatternId, } | { "kind": "add_take", take: Take, sounds: Array<TakeSound>, } | { "kind": "split_take", take: TakeId, splits: Array<Split>, } | { "kind": "remove_take", take: TakeId, } | { "kind": "cut_loop", cut: Cut, } | { "kind": "set_choke", voices: Array<VoiceId>, set: number | null, } | { "kind": "set_voice_swing", voices: Array<VoiceId>, swing: Swing | null, } | { "kind": "follow", voice: VoiceId, leader: VoiceId | null, } | { "kind": "duplicate_voice", voice: VoiceId, 
/**
 * Whether the copy has the settings of the channel too.
 */
with_chain: boolean, 
/**
 * Whether it follows the first lane's pattern.
 */
follows: boolean, } | { "kind": "rename_strip", strip: StripId, name: string, } | { "kind": "set_strips", strips: Array<StripId>, change: StripChange, } | { "kind": "set_output", strips: Array<StripId>, output: StripId | null, } | { "kind": "own_channels", voices: Array<VoiceId>, } | { "kind": "share_channel", voices: Array<VoiceId>, channel: StripId, } | { "kind": "new_bus", name: string, feeders: Array<StripId>, } | { "kind": "group_on_buses", groups: Array<BusGroup>, } | { "kind": "new_return", name: string, feeders: Array<StripId>, 
/**
 * With its fader off, to be raised by ear.
 */
silent: boolean, } | { "kind": "remove_strip", strip: StripId, feeders_to: StripId | null, } | { "kind": "set_mix_bus", strip: StripId, } | { "kind": "set_send", strips: Array<StripId>, send: StripSend, } | { "kind": "remove_sends", strips: Array<StripId>, to: StripId, } | { "kind": "set_triggers", voices: Array<VoiceId>, trigger: boolean, } | { "kind": "new_trigger", like: VoiceId, follows: boolean, } | { "kind": "add_processor", strips: Array<StripId>, settings: Settings, key: Key | null, at: number | null, } | { "kind": "remove_processors", strip: StripId, processors: Array<ProcessorId>, } | { "kind": "move_processor", strip: StripId, processor: ProcessorId, to: number, } | { "kind": "set_processor", strip: StripId, processor: ProcessorId, change: ProcessorChange, } | { "kind": "copy_chain", from: StripId, processors: Array<ProcessorId>, to: Array<StripId>, replace: boolean, } | { "kind": "insert_processors", strips: Array<StripId>, processors: Array<Processor>, at: number | null, replace: boolean, } | { "kind": "order_chain", strip: StripId, order: Array<ProcessorId>, } | { "kind": "set_stem_plan", plan: StemPlan, } | { "kind": "dismiss_check", key: string, dismissed: boolean, } | { "kind": "insert_lanes", insertion: Insertion, } | { "kind": "batch", edits: Array<Edit>, };
