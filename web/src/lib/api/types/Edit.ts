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
import type { MovedValue } from "./MovedValue";
import type { NewVoice } from "./NewVoice";
import type { NotesTo } from "./NotesTo";
import type { Pattern } from "./Pattern";
import type { PatternId } from "./PatternId";
import type { Processor } from "./Processor";
import type { ProcessorChange } from "./ProcessorChange";
import type { ProcessorId } from "./ProcessorId";
import type { Reference } from "./Reference";
import type { ReferenceId } from "./ReferenceId";
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
import type { Taken } from "./Taken";
import type { VoiceId } from "./VoiceId";
import type { VoiceSource } from "./VoiceSource";

/**
 * One intent of a person.
 */
export type Edit = { "kind": "set_header", 
/**
 * As it is to be.
 */
header: Header, } | { "kind": "add_voices", 
/**
 * In the order of the board.
 */
voices: Array<NewVoice>, 
/**
 * Audio that they name.
 */
assets: Array<AssetRef>, } | { "kind": "add_triggers", 
/**
 * In the order of the board.
 */
voices: Array<NewVoice>, 
/**
 * Audio that they name.
 */
assets: Array<AssetRef>, } | { "kind": "remove_voices", 
/**
 * Those to go.
 */
voices: Array<VoiceId>, } | { "kind": "rename_voice", 
/**
 * The voice.
 */
voice: VoiceId, 
/**
 * Its new name.
 */
name: string, } | { "kind": "set_family", 
/**
 * The voice.
 */
voice: VoiceId, 
/**
 * Its new family.
 */
family: Family, } | { "kind": "move_voice", 
/**
 * The voice.
 */
voice: VoiceId, 
/**
 * The row, from 0.
 */
to: number, } | { "kind": "set_source", 
/**
 * The voice.
 */
voice: VoiceId, 
/**
 * What it is to play.
 */
source: VoiceSource, 
/**
 * Audio that this names.
 */
assets: Array<AssetRef>, } | { "kind": "set_hits", 
/**
 * The pattern.
 */
pattern: PatternId, 
/**
 * The voice; one that follows has none of its own.
 */
voice: VoiceId, 
/**
 * All that it is to play.
 */
hits: Array<Hit>, } | { "kind": "add_pattern", 
/**
 * What it is called.
 */
name: string, 
/**
 * How long it is.
 */
bars: number, 
/**
 * Whose hits it begins with.
 */
copy_of: PatternId | null, } | { "kind": "set_pattern", 
/**
 * As it is to be.
 */
pattern: Pattern, } | { "kind": "remove_pattern", 
/**
 * That to go.
 */
pattern: PatternId, } | { "kind": "add_section", 
/**
 * What it is called.
 */
name: string, 
/**
 * What it plays.
 */
pattern: PatternId, 
/**
 * How long it is.
 */
bars: number, 
/**
 * Its place, from 0.
 */
at: number, } | { "kind": "set_section", 
/**
 * As it is to be.
 */
section: Section, } | { "kind": "give_pattern", 
/**
 * The section.
 */
section: SectionId, 
/**
 * Whether it begins with the hits of the one before.
 */
copy: boolean, } | { "kind": "remove_section", 
/**
 * That to go.
 */
section: SectionId, } | { "kind": "move_section", 
/**
 * The section.
 */
section: SectionId, 
/**
 * Its place, from 0.
 */
to: number, } | { "kind": "change_hits", 
/**
 * The pattern.
 */
pattern: PatternId, 
/**
 * Whose hits change.
 */
voices: Array<VoiceId>, 
/**
 * The bars of the pattern.
 */
range: BarRange, 
/**
 * The rule.
 */
change: HitsChange, } | { "kind": "set_loop", 
/**
 * The pattern.
 */
pattern: PatternId, 
/**
 * Whose loop it is.
 */
voices: Array<VoiceId>, 
/**
 * Its length; the pattern's where not said.
 */
ticks: number | null, } | { "kind": "humanise", 
/**
 * The pattern.
 */
pattern: PatternId, 
/**
 * Whose hits vary.
 */
voices: Array<VoiceId>, 
/**
 * How much; not at all where not said.
 */
by: Humanise | null, } | { "kind": "double_pattern", 
/**
 * That to grow.
 */
pattern: PatternId, } | { "kind": "add_take", 
/**
 * As it came.
 */
take: Take, 
/**
 * Sounds for its notes.
 */
sounds: Array<TakeSound>, 
/**
 * Where notes go for which somebody chose another lane than the proposed one.
 */
to: Array<NotesTo>, } | { "kind": "split_take", 
/**
 * The take.
 */
take: TakeId, 
/**
 * Which notes go to which voice.
 */
splits: Array<Split>, } | { "kind": "remove_take", 
/**
 * That to go.
 */
take: TakeId, } | { "kind": "cut_loop", 
/**
 * Pieces, voices and what remains.
 */
cut: Cut, } | { "kind": "set_choke", 
/**
 * The voices.
 */
voices: Array<VoiceId>, 
/**
 * The set's number.
 */
set: number | null, } | { "kind": "set_voice_swing", 
/**
 * The voices.
 */
voices: Array<VoiceId>, 
/**
 * Their swing.
 */
swing: Swing | null, } | { "kind": "set_voice_late", 
/**
 * The voices.
 */
voices: Array<VoiceId>, 
/**
 * -100 (earlier) to +100 ms.
 */
late_ms: number, } | { "kind": "follow", 
/**
 * The voice that is to follow, or to be free.
 */
voice: VoiceId, 
/**
 * Whom it follows.
 */
leader: VoiceId | null, } | { "kind": "duplicate_voice", 
/**
 * That to copy.
 */
voice: VoiceId, 
/**
 * Whether the copy has the settings of the channel too.
 */
with_chain: boolean, 
/**
 * Whether it follows the first lane's pattern.
 */
follows: boolean, } | { "kind": "rename_strip", 
/**
 * The strip.
 */
strip: StripId, 
/**
 * Its new name.
 */
name: string, } | { "kind": "set_strips", 
/**
 * The strips.
 */
strips: Array<StripId>, 
/**
 * What changes.
 */
change: StripChange, } | { "kind": "move_values", 
/**
 * The strips.
 */
strips: Array<StripId>, 
/**
 * Which value.
 */
value: MovedValue, 
/**
 * In the value's unit; in octaves where it runs by ratio.
 */
by: number, } | { "kind": "set_output", 
/**
 * The strips.
 */
strips: Array<StripId>, 
/**
 * Where they go.
 */
output: StripId | null, } | { "kind": "own_channels", 
/**
 * The voices.
 */
voices: Array<VoiceId>, } | { "kind": "share_channel", 
/**
 * The voices.
 */
voices: Array<VoiceId>, 
/**
 * The channel or trigger.
 */
channel: StripId, } | { "kind": "new_bus", 
/**
 * What it is called.
 */
name: string, 
/**
 * What goes to it.
 */
feeders: Array<StripId>, } | { "kind": "group_on_buses", 
/**
 * Buses with what goes to them.
 */
groups: Array<BusGroup>, } | { "kind": "new_path", 
/**
 * What it is called.
 */
name: string, 
/**
 * What feeds it.
 */
feeders: Array<StripId>, 
/**
 * As they are given; they get ids of their own.
 */
processors: Array<Processor>, } | { "kind": "new_return", 
/**
 * What it is called.
 */
name: string, 
/**
 * What sends to it.
 */
feeders: Array<StripId>, 
/**
 * With its fader off, to be raised by ear.
 */
silent: boolean, } | { "kind": "remove_strip", 
/**
 * That to go.
 */
strip: StripId, 
/**
 * Where what went to it goes on to.
 */
feeders_to: StripId | null, } | { "kind": "set_mix_bus", 
/**
 * A bus, or main.
 */
strip: StripId, } | { "kind": "set_send", 
/**
 * The strips that send.
 */
strips: Array<StripId>, 
/**
 * Where to, and how.
 */
send: StripSend, } | { "kind": "remove_sends", 
/**
 * The strips that send.
 */
strips: Array<StripId>, 
/**
 * The return.
 */
to: StripId, } | { "kind": "set_triggers", 
/**
 * The voices.
 */
voices: Array<VoiceId>, 
/**
 * Whether they are triggers now.
 */
trigger: boolean, } | { "kind": "new_trigger", 
/**
 * The voice that it plays like.
 */
like: VoiceId, 
/**
 * Whether it follows, rather than having a copy.
 */
follows: boolean, } | { "kind": "add_processor", 
/**
 * The strips.
 */
strips: Array<StripId>, 
/**
 * What it is and how it is set.
 */
settings: Settings, 
/**
 * What it listens to.
 */
key: Key | null, 
/**
 * The place, from 0; the end where not said.
 */
at: number | null, } | { "kind": "remove_processors", 
/**
 * The strip.
 */
strip: StripId, 
/**
 * Those to go.
 */
processors: Array<ProcessorId>, } | { "kind": "move_processor", 
/**
 * The strip.
 */
strip: StripId, 
/**
 * The processor.
 */
processor: ProcessorId, 
/**
 * Its place, from 0.
 */
to: number, } | { "kind": "set_processor", 
/**
 * The strip.
 */
strip: StripId, 
/**
 * The processor.
 */
processor: ProcessorId, 
/**
 * What changes.
 */
change: ProcessorChange, } | { "kind": "copy_chain", 
/**
 * The strip that has them.
 */
from: StripId, 
/**
 * Which of them; all where none are named.
 */
processors: Array<ProcessorId>, 
/**
 * The strips that get them.
 */
to: Array<StripId>, 
/**
 * Instead of what these have.
 */
replace: boolean, } | { "kind": "insert_processors", 
/**
 * The strips.
 */
strips: Array<StripId>, 
/**
 * As they are given.
 */
processors: Array<Processor>, 
/**
 * The place, from 0; the end where not said.
 */
at: number | null, 
/**
 * Instead of what is there.
 */
replace: boolean, } | { "kind": "order_chain", 
/**
 * The strip.
 */
strip: StripId, 
/**
 * All of its processors in the new order.
 */
order: Array<ProcessorId>, } | { "kind": "set_stem_plan", 
/**
 * As it is to be.
 */
plan: StemPlan, } | { "kind": "dismiss_check", 
/**
 * Which.
 */
key: string, 
/**
 * Whether it is out of sight.
 */
dismissed: boolean, } | { "kind": "add_reference", 
/**
 * What it is called.
 */
name: string, 
/**
 * Its sound, added where it is new.
 */
asset: AssetRef, } | { "kind": "set_reference", 
/**
 * As it is to be.
 */
reference: Reference, } | { "kind": "remove_reference", 
/**
 * Which.
 */
reference: ReferenceId, } | { "kind": "insert_lanes", 
/**
 * The other session, and which of its lanes.
 */
insertion: Insertion, } | { "kind": "take_over", 
/**
 * What it is, in a few words.
 */
name: string, 
/**
 * The pieces.
 */
taken: Taken, } | { "kind": "batch", 
/**
 * In order.
 */
edits: Array<Edit>, };
