//! The list of all edits. Each stands in the room of what it changes, with its label, its work and what it names; nothing
//! else is to be told of a new one.

use super::EditError;
use super::balance::MoveValues;
use super::buses::{GroupOnBuses, NewBus, NewPath, NewReturn, SetMixBus};
use super::chain::{
    AddProcessor, CopyChain, InsertProcessors, MoveProcessor, OrderChain, RemoveProcessors, SetProcessor,
};
use super::cut::CutLoop;
use super::hits::ChangeHits;
use super::insert::InsertLanes;
use super::intent::Intent;
use super::label::Words;
use super::lanes::{
    AddTriggers, AddVoices, DuplicateVoice, Follow, MoveVoice, NewTrigger, RemoveVoices, RenameVoice, SetChoke,
    SetFamily, SetSource, SetVoiceLate, SetVoiceSwing,
};
use super::parts::{Look, Room};
use super::plan::{DismissCheck, SetStemPlan};
use super::references::{AddReference, RemoveReference, SetReference};
use super::sends::{RemoveSends, SetSend};
use super::song::{
    AddPattern, AddSection, DoublePattern, GivePattern, HumaniseHits, MoveSection, RemovePattern, RemoveSection,
    SetHeader, SetHits, SetLoop, SetPattern, SetSection,
};
use super::strips::{OwnChannels, RemoveStrip, RenameStrip, SetOutput, SetStrips, SetTriggers, ShareChannel};
use super::taken::TakeOver;
use super::takes::{AddTake, RemoveTake, SplitTake};
use crate::session::{AssetRef, DocumentError, Session, Size, at_most, limits};
use serde::de::{SeqAccess, Visitor};
use serde::{Deserialize, Deserializer, Serialize};
use std::fmt;

macro_rules! edits {
    ($($kind:ident($intent:ident)),+ $(,)?) => {
        /// One intent of a person.
        #[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
        #[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
        #[serde(tag = "kind", rename_all = "snake_case")]
        #[expect(missing_docs, reason = "each type says what it is")]
        pub enum Edit {
            $($kind($intent),)+
            /// Several edits as one.
            Batch {
                /// In order.
                #[serde(deserialize_with = "at_most_edits")]
                edits: Vec<Edit>,
            },
        }

        impl Edit {
            fn look(&mut self, at: &mut Look) {
                let intent: &mut dyn Intent = match self {
                    $(Edit::$kind(intent) => intent,)+
                    Edit::Batch { edits } => return edits.iter_mut().for_each(|edit| edit.look(at)),
                };
                intent.look(at);
            }

            fn intent(&self) -> Result<&dyn Intent, &[Edit]> {
                match self {
                    $(Edit::$kind(intent) => Ok(intent),)+
                    Edit::Batch { edits } => Err(edits),
                }
            }
        }

        $(impl From<$intent> for Edit {
            fn from(intent: $intent) -> Self {
                Edit::$kind(intent)
            }
        })+
    };
}

edits! {
    SetHeader(SetHeader),
    AddVoices(AddVoices),
    AddTriggers(AddTriggers),
    RemoveVoices(RemoveVoices),
    RenameVoice(RenameVoice),
    SetFamily(SetFamily),
    MoveVoice(MoveVoice),
    SetSource(SetSource),
    SetHits(SetHits),
    AddPattern(AddPattern),
    SetPattern(SetPattern),
    RemovePattern(RemovePattern),
    AddSection(AddSection),
    SetSection(SetSection),
    GivePattern(GivePattern),
    RemoveSection(RemoveSection),
    MoveSection(MoveSection),
    ChangeHits(ChangeHits),
    SetLoop(SetLoop),
    Humanise(HumaniseHits),
    DoublePattern(DoublePattern),
    AddTake(AddTake),
    SplitTake(SplitTake),
    RemoveTake(RemoveTake),
    CutLoop(CutLoop),
    SetChoke(SetChoke),
    SetVoiceSwing(SetVoiceSwing),
    SetVoiceLate(SetVoiceLate),
    Follow(Follow),
    DuplicateVoice(DuplicateVoice),
    RenameStrip(RenameStrip),
    SetStrips(SetStrips),
    MoveValues(MoveValues),
    SetOutput(SetOutput),
    OwnChannels(OwnChannels),
    ShareChannel(ShareChannel),
    NewBus(NewBus),
    GroupOnBuses(GroupOnBuses),
    NewPath(NewPath),
    NewReturn(NewReturn),
    RemoveStrip(RemoveStrip),
    SetMixBus(SetMixBus),
    SetSend(SetSend),
    RemoveSends(RemoveSends),
    SetTriggers(SetTriggers),
    NewTrigger(NewTrigger),
    AddProcessor(AddProcessor),
    RemoveProcessors(RemoveProcessors),
    MoveProcessor(MoveProcessor),
    SetProcessor(SetProcessor),
    CopyChain(CopyChain),
    InsertProcessors(InsertProcessors),
    OrderChain(OrderChain),
    SetStemPlan(SetStemPlan),
    DismissCheck(DismissCheck),
    AddReference(AddReference),
    SetReference(SetReference),
    RemoveReference(RemoveReference),
    InsertLanes(InsertLanes),
    TakeOver(TakeOver),
}

impl Edit {
    /// A few words that say what the edit does to a session, as that is before it.
    pub fn label(&self, session: &Session) -> String {
        match self.intent() {
            Ok(intent) => intent.label(&Words(session)),
            Err([]) => "Nothing".into(),
            Err([one]) => one.label(session),
            Err([first, rest @ ..]) => format!("{} and {} more", first.label(session), rest.len()),
        }
    }

    /// Calls `with` on every id of the session that the edit names.
    pub fn each_id(&mut self, mut with: impl FnMut(&mut u32)) {
        self.look(&mut Look { id: &mut with, asset: &mut |_| () });
    }

    /// Calls `with` on every piece of audio that the edit brings along.
    pub fn each_asset(&mut self, mut with: impl FnMut(&mut AssetRef)) {
        self.look(&mut Look { id: &mut |_| (), asset: &mut with });
    }

    /// Edits in a batch, at any depth, and a batch itself.
    fn count(&self) -> usize {
        self.intent().map_or_else(|edits| 1 + edits.iter().map(Edit::count).sum::<usize>(), |_| 1)
    }

    /// Checks the lists of an edit before anything is done with them.
    ///
    /// # Errors
    /// The first list that is longer than any session could need.
    pub(super) fn bounded(&self) -> Result<(), DocumentError> {
        at_most("edits in one", self.count(), limits::BATCH_EDITS)?;
        let room = Room::default();
        self.lists(&room)
    }

    fn lists(&self, room: &Room) -> Result<(), DocumentError> {
        match self.intent() {
            Ok(intent) => intent.bounded(room),
            Err(edits) => edits.iter().try_for_each(|edit| edit.lists(room)),
        }
    }

    /// Does it. Where it fails the session may be left half-done. In a batch, sizes and references are checked after
    /// each step, so that the next one finds a document that hangs together.
    ///
    /// # Errors
    /// [`EditError`] with what is wrong and where.
    pub(super) fn change(&self, s: &mut Session, size: &Size) -> Result<(), EditError> {
        match self.intent() {
            Ok(intent) => intent.apply(s),
            Err(edits) => edits.iter().try_for_each(|edit| {
                edit.change(s, size)?;
                size.allows(s)?;
                Ok(s.validate_references()?)
            }),
        }
    }
}

/// Reads edits up to the most that one may hold, so that what is far too long is not read to its end.
fn at_most_edits<'de, D: Deserializer<'de>>(from: D) -> Result<Vec<Edit>, D::Error> {
    struct Edits;

    impl<'de> Visitor<'de> for Edits {
        type Value = Vec<Edit>;

        fn expecting(&self, f: &mut fmt::Formatter) -> fmt::Result {
            write!(f, "up to {} edits", limits::BATCH_EDITS)
        }

        fn visit_seq<A: SeqAccess<'de>>(self, mut list: A) -> Result<Vec<Edit>, A::Error> {
            let mut edits = Vec::new();
            while let Some(edit) = list.next_element()? {
                if edits.len() == limits::BATCH_EDITS {
                    return Err(serde::de::Error::custom(format!("more than {} edits in one", limits::BATCH_EDITS)));
                }
                edits.push(edit);
            }
            Ok(edits)
        }
    }
    from.deserialize_seq(Edits)
}
