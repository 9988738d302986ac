//! What an edit names and brings along: ids, audio, and how long its lists are. Each match here is exhaustive, without
//! a rest, so that a new edit or a new field cannot be forgotten.

use super::{
    BarRange, BusGroup, Cut, Edit, Insertion, MovedValue, NewHits, NewVoice, NotesLane, NotesTo, ProcessorChange,
    Split, SplitTarget, StripChange, StripMap, TakeSound,
};
use crate::session::{
    AssetRef, DocumentError, Key, Pattern, Processor, Reference, Section, StemChoice, StemPlan, StemRange, StripSend,
    VoiceSource, at_most, limits,
};
use lane_units::{CheckKey, PatternId, ProcessorId, ReferenceId, SectionId, StripId, TakeId, VoiceId};
use std::cell::Cell;

/// A look at every id of a session that an edit names. What comes from another session or makes ids of its own has
/// none.
trait Ids {
    fn each(&mut self, with: &mut impl FnMut(&mut u32));
}

macro_rules! ids {
    ($($id:ident),*) => {
        $(impl Ids for $id {
            fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
                with(&mut self.0);
            }
        })*
    };
}
ids!(VoiceId, StripId, ProcessorId, PatternId, SectionId, TakeId, ReferenceId);

impl<T: Ids> Ids for Vec<T> {
    fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
        self.iter_mut().for_each(|item| item.each(with));
    }
}

impl<T: Ids> Ids for Option<T> {
    fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
        self.iter_mut().for_each(|item| item.each(with));
    }
}

impl Ids for Key {
    fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
        let Key { source, also, .. } = self;
        source.each(with);
        also.iter_mut().for_each(|id| id.each(with));
    }
}

/// Processors that are given: their own ids are made anew.
impl Ids for Processor {
    fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
        let Processor { id: _, on: _, input_db: _, output_db: _, mix_percent: _, key, settings: _ } = self;
        key.each(with);
    }
}

impl Ids for StripSend {
    fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
        let StripSend { to, tap: _, level_db: _, pan_percent: _, mute: _, placed: _ } = self;
        to.each(with);
    }
}

impl Ids for NewVoice {
    fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
        let NewVoice { trim_db: _, name: _, family: _, source: _, output, hits } = self;
        output.each(with);
        for NewHits { pattern, hits: _ } in hits {
            pattern.each(with);
        }
    }
}

impl Ids for NotesTo {
    fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
        let NotesTo { notes: _, to } = self;
        match to {
            NotesLane::Voice { voice } => voice.each(with),
            NotesLane::New | NotesLane::Named { name: _ } => {}
        }
    }
}

impl Ids for Split {
    fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
        let Split { to, keys: _ } = self;
        match to {
            SplitTarget::Voice { voice } => voice.each(with),
            SplitTarget::New { name: _, family: _, melodic: _, sound: _ } => {}
        }
    }
}

impl Ids for StemPlan {
    fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
        let StemPlan { without, with_buses, tap: _, taps, range, tail: _, depth: _, label: _, with_limiter: _ } = self;
        without.each(with);
        with_buses.each(with);
        for StemChoice { strip, tap: _ } in taps {
            strip.each(with);
        }
        match range {
            StemRange::Section { section } => section.each(with),
            StemRange::Song | StemRange::Bars { from_bar: _, bars: _ } => {}
        }
    }
}

impl Ids for BusGroup {
    fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
        let BusGroup { name: _, strips } = self;
        strips.each(with);
    }
}

/// Keys of checks hold the ids of what they are about as words of digits.
impl Ids for CheckKey {
    fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
        let mut words: Vec<String> = self.split(' ').map(str::to_owned).collect();
        // A name may hold digits that are no id.
        if words.first().is_some_and(|w| w == "name") {
            return;
        }
        for word in words.iter_mut().skip(1) {
            if let Ok(mut id) = word.parse::<u32>() {
                with(&mut id);
                *word = id.to_string();
            }
        }
        *self = CheckKey::cleaned(&words.join(" "), "check");
    }
}

impl Ids for Edit {
    fn each(&mut self, with: &mut impl FnMut(&mut u32)) {
        match self {
            Edit::SetHeader { header: _ } => {}
            Edit::AddVoices { voices, assets: _ } | Edit::AddTriggers { voices, assets: _ } => voices.each(with),
            Edit::RemoveVoices { voices }
            | Edit::SetChoke { voices, set: _ }
            | Edit::SetVoiceLate { voices, late_ms: _ }
            | Edit::SetVoiceSwing { voices, swing: _ }
            | Edit::OwnChannels { voices }
            | Edit::SetTriggers { voices, trigger: _ } => voices.each(with),
            Edit::RenameVoice { voice, name: _ }
            | Edit::SetFamily { voice, family: _ }
            | Edit::MoveVoice { voice, to: _ }
            | Edit::SetSource { voice, source: _, assets: _ }
            | Edit::DuplicateVoice { voice, with_chain: _, follows: _ }
            | Edit::NewTrigger { like: voice, follows: _ } => voice.each(with),
            Edit::SetHits { pattern, voice, hits: _ } => {
                pattern.each(with);
                voice.each(with);
            }
            Edit::AddPattern { name: _, bars: _, copy_of } => copy_of.each(with),
            Edit::SetPattern { pattern: Pattern { id, name: _, bars: _ } } => id.each(with),
            Edit::RemovePattern { pattern } | Edit::DoublePattern { pattern } => pattern.each(with),
            Edit::AddSection { name: _, pattern, bars: _, at: _ } => pattern.each(with),
            Edit::SetSection { section: Section { id, name: _, pattern, bars: _ } } => {
                id.each(with);
                pattern.each(with);
            }
            Edit::GivePattern { section, copy: _ } => section.each(with),
            Edit::RemoveSection { section } | Edit::MoveSection { section, to: _ } => section.each(with),
            Edit::ChangeHits { pattern, voices, range: BarRange { from: _, bars: _ }, change: _ }
            | Edit::SetLoop { pattern, voices, ticks: _ }
            | Edit::Humanise { pattern, voices, by: _ } => {
                pattern.each(with);
                voices.each(with);
            }
            Edit::AddTake { take: _, sounds: _, to } => to.each(with),
            Edit::SplitTake { take, splits } => {
                take.each(with);
                splits.each(with);
            }
            Edit::RemoveTake { take } => take.each(with),
            Edit::CutLoop { cut: Cut { voice, pattern, loop_bpm: _, grid_ticks: _, pieces: _, voices: _ } } => {
                voice.each(with);
                pattern.each(with);
            }
            Edit::Follow { voice, leader } => {
                voice.each(with);
                leader.each(with);
            }
            Edit::RenameStrip { strip, name: _ } | Edit::SetMixBus { strip } => strip.each(with),
            Edit::SetStrips { strips, change: _ } | Edit::NewBus { name: _, feeders: strips } => strips.each(with),
            Edit::MoveValues { strips, value, by: _ } => {
                strips.each(with);
                match value {
                    MovedValue::SendDb { to } | MovedValue::SendPanPercent { to } => to.each(with),
                    MovedValue::TrimDb
                    | MovedValue::FaderDb
                    | MovedValue::PanPercent
                    | MovedValue::WidthPercent
                    | MovedValue::Processor { kind: _, value: _ }
                    | MovedValue::InputDb { kind: _ }
                    | MovedValue::OutputDb { kind: _ }
                    | MovedValue::MixPercent { kind: _ } => {}
                }
            }
            Edit::NewReturn { name: _, feeders, silent: _ } => feeders.each(with),
            Edit::NewPath { name: _, feeders, processors } => {
                feeders.each(with);
                processors.each(with);
            }
            Edit::SetOutput { strips, output } => {
                strips.each(with);
                output.each(with);
            }
            Edit::ShareChannel { voices, channel } => {
                voices.each(with);
                channel.each(with);
            }
            Edit::GroupOnBuses { groups } => groups.each(with),
            Edit::RemoveStrip { strip, feeders_to } => {
                strip.each(with);
                feeders_to.each(with);
            }
            Edit::SetSend { strips, send } => {
                strips.each(with);
                send.each(with);
            }
            Edit::RemoveSends { strips, to } => {
                strips.each(with);
                to.each(with);
            }
            Edit::AddProcessor { strips, settings: _, key, at: _ } => {
                strips.each(with);
                key.each(with);
            }
            Edit::RemoveProcessors { strip, processors } => {
                strip.each(with);
                processors.each(with);
            }
            Edit::MoveProcessor { strip, processor, to: _ } => {
                strip.each(with);
                processor.each(with);
            }
            Edit::SetProcessor { strip, processor, change } => {
                strip.each(with);
                processor.each(with);
                match change {
                    ProcessorChange::Key(key) => key.each(with),
                    ProcessorChange::Settings(_)
                    | ProcessorChange::On(_)
                    | ProcessorChange::InputDb(_)
                    | ProcessorChange::OutputDb(_)
                    | ProcessorChange::MixPercent(_) => {}
                }
            }
            Edit::CopyChain { from, processors, to, replace: _ } => {
                from.each(with);
                processors.each(with);
                to.each(with);
            }
            Edit::InsertProcessors { strips, processors, at: _, replace: _ } => {
                strips.each(with);
                processors.each(with);
            }
            Edit::OrderChain { strip, order } => {
                strip.each(with);
                order.each(with);
            }
            Edit::SetStemPlan { plan } => plan.each(with),
            // Its pieces are named as they were known to the server.
            Edit::TakeOver { name: _, taken: _ } => {}
            Edit::DismissCheck { key, dismissed: _ } => key.each(with),
            Edit::AddReference { name: _, asset: _ } => {}
            Edit::SetReference { reference } => {
                let Reference { id, name: _, asset: _, follows: _, start_bar: _, from_frame: _, to_frame: _ } =
                    reference;
                id.each(with);
            }
            Edit::RemoveReference { reference } => reference.each(with),
            Edit::InsertLanes { insertion } => {
                let Insertion { from: _, voices: _, map, pattern } = &mut **insertion;
                for StripMap { from: _, to } in map {
                    to.each(with);
                }
                pattern.each(with);
            }
            Edit::Batch { edits } => edits.each(with),
        }
    }
}

impl Edit {
    /// Calls `with` on every id of the session that the edit names.
    pub fn each_id(&mut self, mut with: impl FnMut(&mut u32)) {
        self.each(&mut with);
    }

    /// Every piece of audio that the edit brings along.
    pub fn assets_mut(&mut self) -> Vec<&mut AssetRef> {
        match self {
            Edit::AddVoices { voices: _, assets }
            | Edit::AddTriggers { voices: _, assets }
            | Edit::SetSource { voice: _, source: _, assets } => assets.iter_mut().collect(),
            Edit::AddTake { take: _, sounds, to: _ } => {
                sounds.iter_mut().map(|TakeSound { key: _, asset }| asset).collect()
            }
            Edit::SplitTake { take: _, splits } => splits
                .iter_mut()
                .filter_map(|Split { to, keys: _ }| match to {
                    SplitTarget::New { name: _, family: _, melodic: _, sound } => sound.as_mut(),
                    SplitTarget::Voice { voice: _ } => None,
                })
                .collect(),
            Edit::AddReference { name: _, asset } => vec![asset],
            Edit::InsertLanes { insertion } => insertion.from.assets.iter_mut().map(|a| &mut **a).collect(),
            Edit::Batch { edits } => edits.iter_mut().flat_map(Edit::assets_mut).collect(),
            Edit::SetHeader { .. }
            | Edit::SetReference { .. }
            | Edit::RemoveReference { .. }
            | Edit::RemoveVoices { .. }
            | Edit::RenameVoice { .. }
            | Edit::SetFamily { .. }
            | Edit::MoveVoice { .. }
            | Edit::SetHits { .. }
            | Edit::AddPattern { .. }
            | Edit::SetPattern { .. }
            | Edit::RemovePattern { .. }
            | Edit::AddSection { .. }
            | Edit::SetSection { .. }
            | Edit::GivePattern { .. }
            | Edit::RemoveSection { .. }
            | Edit::MoveSection { .. }
            | Edit::ChangeHits { .. }
            | Edit::SetLoop { .. }
            | Edit::Humanise { .. }
            | Edit::DoublePattern { .. }
            | Edit::RemoveTake { .. }
            | Edit::CutLoop { .. }
            | Edit::SetChoke { .. }
            | Edit::SetVoiceLate { .. }
            | Edit::SetVoiceSwing { .. }
            | Edit::Follow { .. }
            | Edit::DuplicateVoice { .. }
            | Edit::RenameStrip { .. }
            | Edit::SetStrips { .. }
            | Edit::MoveValues { .. }
            | Edit::SetOutput { .. }
            | Edit::OwnChannels { .. }
            | Edit::ShareChannel { .. }
            | Edit::NewBus { .. }
            | Edit::GroupOnBuses { .. }
            | Edit::NewReturn { .. }
            | Edit::NewPath { .. }
            | Edit::RemoveStrip { .. }
            | Edit::SetMixBus { .. }
            | Edit::SetSend { .. }
            | Edit::RemoveSends { .. }
            | Edit::SetTriggers { .. }
            | Edit::NewTrigger { .. }
            | Edit::AddProcessor { .. }
            | Edit::RemoveProcessors { .. }
            | Edit::MoveProcessor { .. }
            | Edit::SetProcessor { .. }
            | Edit::CopyChain { .. }
            | Edit::InsertProcessors { .. }
            | Edit::OrderChain { .. }
            | Edit::SetStemPlan { .. }
            | Edit::DismissCheck { .. } => Vec::new(),
            Edit::TakeOver { name: _, taken } => taken.assets.iter_mut().map(|a| &mut **a).collect(),
        }
    }

    /// Edits in a batch, at any depth, and a batch itself.
    fn edits(&self) -> usize {
        match self {
            Edit::Batch { edits } => 1 + edits.iter().map(Edit::edits).sum::<usize>(),
            _ => 1,
        }
    }

    /// Checks the lists of an edit before anything is done with them.
    ///
    /// # Errors
    /// The first list that is longer than any session could need.
    pub(super) fn bounded(&self) -> Result<(), DocumentError> {
        at_most("edits in one", self.edits(), limits::BATCH_EDITS)?;
        self.lists(&Cell::new(0))
    }

    /// * `named` – rows and voices named so far, by all edits of a batch.
    fn lists(&self, named: &Cell<usize>) -> Result<(), DocumentError> {
        let rows = |given: usize| {
            named.set(named.get() + given);
            at_most("rows of an edit", given, limits::STRIPS)?;
            at_most("rows of all edits in one", named.get(), limits::BATCH_ROWS)
        };
        let hits = |given: usize| at_most("hits in one pattern", given, limits::HITS_IN_PART);
        let assets = |given: usize| at_most("pieces of audio of an edit", given, limits::ASSETS);
        let processors = |given: usize| at_most("processors of an edit", given, limits::PROCESSORS);
        let source = |source: &VoiceSource| match source {
            VoiceSource::OneShot { layers, hold: _ } => at_most("layers of a voice", layers.len(), limits::LAYERS),
            VoiceSource::Empty | VoiceSource::Recording { asset: _, start_frame: _ } => Ok(()),
        };
        match self {
            Edit::AddReference { .. } | Edit::SetReference { .. } | Edit::RemoveReference { .. } => Ok(()),
            Edit::AddVoices { voices, assets: brought } | Edit::AddTriggers { voices, assets: brought } => {
                at_most("voices", voices.len(), limits::VOICES)?;
                assets(brought.len())?;
                for voice in voices {
                    source(&voice.source)?;
                    at_most("patterns of a new voice", voice.hits.len(), limits::PATTERNS)?;
                    voice.hits.iter().try_for_each(|h| hits(h.hits.len()))?;
                }
                Ok(())
            }
            Edit::SetSource { voice: _, source: new, assets: brought } => {
                assets(brought.len())?;
                source(new)
            }
            Edit::SetHits { pattern: _, voice: _, hits: new } => hits(new.len()),
            Edit::RemoveVoices { voices }
            | Edit::SetChoke { voices, .. }
            | Edit::SetVoiceLate { voices, .. }
            | Edit::SetVoiceSwing { voices, .. }
            | Edit::OwnChannels { voices }
            | Edit::SetTriggers { voices, .. }
            | Edit::ChangeHits { voices, .. }
            | Edit::SetLoop { voices, .. }
            | Edit::Humanise { voices, .. }
            | Edit::ShareChannel { voices, .. } => rows(voices.len()),
            Edit::SetStrips { strips, change } => {
                match change {
                    StripChange::TrimDb(_)
                    | StripChange::Polarity(_)
                    | StripChange::OffsetFrames(_)
                    | StripChange::FaderDb(_)
                    | StripChange::PanPercent(_)
                    | StripChange::WidthPercent(_)
                    | StripChange::Mute(_)
                    | StripChange::Solo(_)
                    | StripChange::SoloSafe(_)
                    | StripChange::Target(_) => {}
                }
                rows(strips.len())
            }
            Edit::SetOutput { strips, .. }
            | Edit::MoveValues { strips, .. }
            | Edit::SetSend { strips, .. }
            | Edit::RemoveSends { strips, .. }
            | Edit::AddProcessor { strips, .. } => rows(strips.len()),
            Edit::NewBus { feeders, .. } | Edit::NewReturn { feeders, .. } => rows(feeders.len()),
            Edit::NewPath { feeders, processors: new, .. } => {
                rows(feeders.len())?;
                processors(new.len())
            }
            Edit::GroupOnBuses { groups } => {
                rows(groups.len())?;
                rows(groups.iter().map(|g| g.strips.len()).sum())
            }
            Edit::AddTake { take, sounds, to } => {
                at_most("voices that a take is split into", to.len(), limits::VOICES)?;
                at_most("notes of a take", take.notes.len(), limits::TAKE_NOTES)?;
                at_most("tracks of a take", take.tracks.len(), limits::TAKE_TRACKS)?;
                at_most("remarks of a take", take.remarks.len(), limits::TAKE_TRACKS)?;
                assets(sounds.len())
            }
            Edit::SplitTake { take: _, splits } => {
                at_most("voices that a take is split into", splits.len(), limits::VOICES)?;
                at_most("sounds of a take", splits.iter().map(|s| s.keys.len()).sum(), limits::TAKE_NOTES)
            }
            Edit::CutLoop { cut } => {
                at_most("pieces of a loop", cut.pieces.len(), limits::PIECES)?;
                at_most("voices of a cut", cut.voices.len(), limits::VOICES)
            }
            Edit::RemoveProcessors { processors: named, .. } | Edit::OrderChain { order: named, .. } => {
                processors(named.len())
            }
            Edit::CopyChain { processors: named, to, .. } => {
                processors(named.len())?;
                rows(to.len())
            }
            Edit::InsertProcessors { strips, processors: new, .. } => {
                rows(strips.len())?;
                processors(new.len())
            }
            Edit::TakeOver { taken, .. } => at_most("pieces that are taken over", taken.rows(), limits::PARTS),
            Edit::SetStemPlan { plan } => rows(plan.without.len().max(plan.with_buses.len()).max(plan.taps.len())),
            Edit::InsertLanes { insertion } => {
                rows(insertion.voices.len())?;
                rows(insertion.map.len())
            }
            Edit::Batch { edits } => edits.iter().try_for_each(|edit| edit.lists(named)),
            Edit::SetHeader { .. }
            | Edit::RenameVoice { .. }
            | Edit::SetFamily { .. }
            | Edit::MoveVoice { .. }
            | Edit::AddPattern { .. }
            | Edit::SetPattern { .. }
            | Edit::RemovePattern { .. }
            | Edit::AddSection { .. }
            | Edit::SetSection { .. }
            | Edit::GivePattern { .. }
            | Edit::RemoveSection { .. }
            | Edit::MoveSection { .. }
            | Edit::DoublePattern { .. }
            | Edit::RemoveTake { .. }
            | Edit::Follow { .. }
            | Edit::DuplicateVoice { .. }
            | Edit::NewTrigger { .. }
            | Edit::RenameStrip { .. }
            | Edit::RemoveStrip { .. }
            | Edit::SetMixBus { .. }
            | Edit::MoveProcessor { .. }
            | Edit::SetProcessor { .. }
            | Edit::DismissCheck { .. } => Ok(()),
        }
    }
}
