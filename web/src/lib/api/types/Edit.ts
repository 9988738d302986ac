// Made by `cargo xtask types`.
import type { AddPattern } from "./AddPattern";
import type { AddProcessor } from "./AddProcessor";
import type { AddReference } from "./AddReference";
import type { AddSection } from "./AddSection";
import type { AddTake } from "./AddTake";
import type { AddTriggers } from "./AddTriggers";
import type { AddVoices } from "./AddVoices";
import type { ChangeHits } from "./ChangeHits";
import type { CopyChain } from "./CopyChain";
import type { CutLoop } from "./CutLoop";
import type { DismissCheck } from "./DismissCheck";
import type { DoublePattern } from "./DoublePattern";
import type { DuplicateVoice } from "./DuplicateVoice";
import type { Follow } from "./Follow";
import type { GivePattern } from "./GivePattern";
import type { GroupOnBuses } from "./GroupOnBuses";
import type { HumaniseHits } from "./HumaniseHits";
import type { InsertLanes } from "./InsertLanes";
import type { InsertProcessors } from "./InsertProcessors";
import type { MoveProcessor } from "./MoveProcessor";
import type { MoveSection } from "./MoveSection";
import type { MoveValues } from "./MoveValues";
import type { MoveVoice } from "./MoveVoice";
import type { NewBus } from "./NewBus";
import type { NewPath } from "./NewPath";
import type { NewReturn } from "./NewReturn";
import type { NewTrigger } from "./NewTrigger";
import type { OrderChain } from "./OrderChain";
import type { OwnChannels } from "./OwnChannels";
import type { RemovePattern } from "./RemovePattern";
import type { RemoveProcessors } from "./RemoveProcessors";
import type { RemoveReference } from "./RemoveReference";
import type { RemoveSection } from "./RemoveSection";
import type { RemoveSends } from "./RemoveSends";
import type { RemoveStrip } from "./RemoveStrip";
import type { RemoveTake } from "./RemoveTake";
import type { RemoveVoices } from "./RemoveVoices";
import type { RenameStrip } from "./RenameStrip";
import type { RenameVoice } from "./RenameVoice";
import type { SetChoke } from "./SetChoke";
import type { SetFamily } from "./SetFamily";
import type { SetHeader } from "./SetHeader";
import type { SetHits } from "./SetHits";
import type { SetLoop } from "./SetLoop";
import type { SetMixBus } from "./SetMixBus";
import type { SetOutput } from "./SetOutput";
import type { SetPattern } from "./SetPattern";
import type { SetProcessor } from "./SetProcessor";
import type { SetReference } from "./SetReference";
import type { SetSection } from "./SetSection";
import type { SetSend } from "./SetSend";
import type { SetSource } from "./SetSource";
import type { SetStemPlan } from "./SetStemPlan";
import type { SetStrips } from "./SetStrips";
import type { SetTriggers } from "./SetTriggers";
import type { SetVoiceLate } from "./SetVoiceLate";
import type { SetVoiceSwing } from "./SetVoiceSwing";
import type { ShareChannel } from "./ShareChannel";
import type { SplitTake } from "./SplitTake";
import type { TakeOver } from "./TakeOver";

/**
 * One intent of a person.
 */
export type Edit = { "kind": "set_header" } & SetHeader | { "kind": "add_voices" } & AddVoices | { "kind": "add_triggers" } & AddTriggers | { "kind": "remove_voices" } & RemoveVoices | { "kind": "rename_voice" } & RenameVoice | { "kind": "set_family" } & SetFamily | { "kind": "move_voice" } & MoveVoice | { "kind": "set_source" } & SetSource | { "kind": "set_hits" } & SetHits | { "kind": "add_pattern" } & AddPattern | { "kind": "set_pattern" } & SetPattern | { "kind": "remove_pattern" } & RemovePattern | { "kind": "add_section" } & AddSection | { "kind": "set_section" } & SetSection | { "kind": "give_pattern" } & GivePattern | { "kind": "remove_section" } & RemoveSection | { "kind": "move_section" } & MoveSection | { "kind": "change_hits" } & ChangeHits | { "kind": "set_loop" } & SetLoop | { "kind": "humanise" } & HumaniseHits | { "kind": "double_pattern" } & DoublePattern | { "kind": "add_take" } & AddTake | { "kind": "split_take" } & SplitTake | { "kind": "remove_take" } & RemoveTake | { "kind": "cut_loop" } & CutLoop | { "kind": "set_choke" } & SetChoke | { "kind": "set_voice_swing" } & SetVoiceSwing | { "kind": "set_voice_late" } & SetVoiceLate | { "kind": "follow" } & Follow | { "kind": "duplicate_voice" } & DuplicateVoice | { "kind": "rename_strip" } & RenameStrip | { "kind": "set_strips" } & SetStrips | { "kind": "move_values" } & MoveValues | { "kind": "set_output" } & SetOutput | { "kind": "own_channels" } & OwnChannels | { "kind": "share_channel" } & ShareChannel | { "kind": "new_bus" } & NewBus | { "kind": "group_on_buses" } & GroupOnBuses | { "kind": "new_path" } & NewPath | { "kind": "new_return" } & NewReturn | { "kind": "remove_strip" } & RemoveStrip | { "kind": "set_mix_bus" } & SetMixBus | { "kind": "set_send" } & SetSend | { "kind": "remove_sends" } & RemoveSends | { "kind": "set_triggers" } & SetTriggers | { "kind": "new_trigger" } & NewTrigger | { "kind": "add_processor" } & AddProcessor | { "kind": "remove_processors" } & RemoveProcessors | { "kind": "move_processor" } & MoveProcessor | { "kind": "set_processor" } & SetProcessor | { "kind": "copy_chain" } & CopyChain | { "kind": "insert_processors" } & InsertProcessors | { "kind": "order_chain" } & OrderChain | { "kind": "set_stem_plan" } & SetStemPlan | { "kind": "dismiss_check" } & DismissCheck | { "kind": "add_reference" } & AddReference | { "kind": "set_reference" } & SetReference | { "kind": "remove_reference" } & RemoveReference | { "kind": "insert_lanes" } & InsertLanes | { "kind": "take_over" } & TakeOver | { "kind": "batch", 
/**
 * In order.
 */
edits: Array<Edit>, };
