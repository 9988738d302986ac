//! What an edit names and brings along: ids, audio, and how long its lists are. Each type that stands in an edit says it
//! of itself, so that an edit only lists its fields; one whose type says nothing of it does not compile.

use crate::session::{
    AssetRef, DocumentError, Family, Header, Hit, Humanise, Key, NoteKey, Pattern, Polarity, Processor, Reference,
    Section, StemChoice, StemPlan, StemRange, StripSend, Swing, Take, VoiceSource, at_most, limits,
};
use lane_dsp::Settings;
use lane_units::{CheckKey, Name, PatternId, ProcessorId, ReferenceId, SectionId, StripId, StripName, TakeId, VoiceId};
use std::cell::Cell;

/// A look at every id of a session that an edit names, and at the audio that it brings along. What comes from another
/// session or makes ids of its own is not among the ids.
pub(super) struct Look<'a> {
    pub(super) id: &'a mut dyn FnMut(&mut u32),
    pub(super) asset: &'a mut dyn FnMut(&mut AssetRef),
}

/// How much all edits of one may hold together.
#[derive(Default)]
pub(super) struct Room {
    /// Rows and voices named so far.
    named: Cell<usize>,
}

impl Room {
    /// Room for so many rows or voices more.
    pub(super) fn rows(&self, given: usize) -> Result<(), DocumentError> {
        self.named.set(self.named.get() + given);
        at_most("rows of an edit", given, limits::STRIPS)?;
        at_most("rows of all edits in one", self.named.get(), limits::BATCH_ROWS)
    }
}

/// Something that stands in an edit.
pub(super) trait Parts {
    /// Shows its ids and its audio.
    fn look(&mut self, at: &mut Look);

    /// Checks its lists before anything is done with them.
    ///
    /// # Errors
    /// The first list that is longer than any session could need.
    fn bounded(&self, room: &Room) -> Result<(), DocumentError>;
}

/// Something of which an edit may hold several.
pub(super) trait Listed: Parts + Sized {
    /// Checks how many there are.
    ///
    /// # Errors
    /// More than any session could need.
    fn listed(all: &[Self], room: &Room) -> Result<(), DocumentError>;
}

/// The fields of a type. Behind `;` stand those whose ids are not of the session.
macro_rules! parts {
    ($type:ident { $($field:ident),* $(; $($other:ident),+)? }) => {
        impl $crate::edit::parts::Parts for $type {
            fn look(&mut self, at: &mut $crate::edit::parts::Look) {
                let Self { $($field,)* $($($other: _,)+)? } = self;
                $($crate::edit::parts::Parts::look($field, at);)*
            }

            fn bounded(
                &self,
                room: &$crate::edit::parts::Room,
            ) -> Result<(), $crate::session::DocumentError> {
                let Self { $($field,)* $($($other: _,)+)? } = self;
                $($crate::edit::parts::Parts::bounded($field, room)?;)*
                Ok(())
            }
        }
    };
}
pub(super) use parts;

/// Types that hold neither ids of a session nor audio nor lists.
macro_rules! plain {
    ($($type:ty),+ $(,)?) => {
        $(impl $crate::edit::parts::Parts for $type {
            fn look(&mut self, _: &mut $crate::edit::parts::Look) {}

            fn bounded(&self, _: &$crate::edit::parts::Room) -> Result<(), $crate::session::DocumentError> {
                Ok(())
            }
        })+
    };
}
pub(super) use plain;

/// Types of which an edit may hold so many.
macro_rules! listed {
    ($($type:ty: $what:literal, $most:expr);+ $(;)?) => {
        $(impl $crate::edit::parts::Listed for $type {
            fn listed(all: &[Self], _: &$crate::edit::parts::Room) -> Result<(), $crate::session::DocumentError> {
                $crate::session::at_most($what, all.len(), $most)
            }
        })+
    };
}
pub(super) use listed;

plain! { bool, u8, u32, f64, Name, StripName, Family, Header, Hit, Humanise, NoteKey, Polarity, Settings, Swing }
listed! {
    Hit: "hits in one pattern", limits::HITS_IN_PART;
    AssetRef: "pieces of audio of an edit", limits::ASSETS;
    Processor: "processors of an edit", limits::PROCESSORS;
    ProcessorId: "processors of an edit", limits::PROCESSORS;
    NoteKey: "sounds of a take", limits::TAKE_NOTES;
}

macro_rules! ids {
    ($($id:ident),+) => {
        $(impl Parts for $id {
            fn look(&mut self, at: &mut Look) {
                (at.id)(&mut self.0);
            }

            fn bounded(&self, _: &Room) -> Result<(), DocumentError> {
                Ok(())
            }
        })+
    };
}
ids!(VoiceId, StripId, ProcessorId, PatternId, SectionId, TakeId, ReferenceId);

impl Listed for VoiceId {
    fn listed(all: &[Self], room: &Room) -> Result<(), DocumentError> {
        room.rows(all.len())
    }
}

impl Listed for StripId {
    fn listed(all: &[Self], room: &Room) -> Result<(), DocumentError> {
        room.rows(all.len())
    }
}

impl<T: Listed> Parts for Vec<T> {
    fn look(&mut self, at: &mut Look) {
        self.iter_mut().for_each(|item| item.look(at));
    }

    fn bounded(&self, room: &Room) -> Result<(), DocumentError> {
        T::listed(self, room)?;
        self.iter().try_for_each(|item| item.bounded(room))
    }
}

impl<T: Parts> Parts for Option<T> {
    fn look(&mut self, at: &mut Look) {
        self.iter_mut().for_each(|item| item.look(at));
    }

    fn bounded(&self, room: &Room) -> Result<(), DocumentError> {
        self.iter().try_for_each(|item| item.bounded(room))
    }
}

impl<T: Parts> Parts for Box<T> {
    fn look(&mut self, at: &mut Look) {
        (**self).look(at);
    }

    fn bounded(&self, room: &Room) -> Result<(), DocumentError> {
        (**self).bounded(room)
    }
}

impl Parts for AssetRef {
    fn look(&mut self, at: &mut Look) {
        (at.asset)(self);
    }

    fn bounded(&self, _: &Room) -> Result<(), DocumentError> {
        Ok(())
    }
}

parts!(Pattern { id, name, bars });
parts!(Section { id, name, pattern, bars });
parts!(Reference { id, name, follows, start_bar, from_frame, to_frame; asset });
parts!(StripSend { to, level_db, pan_percent, mute; tap, placed });
// Their own ids are made anew.
parts!(Processor { on, input_db, output_db, mix_percent, key, settings; id });

impl Parts for Key {
    fn look(&mut self, at: &mut Look) {
        let Key { source, also, .. } = self;
        source.look(at);
        also.iter_mut().for_each(|id| id.look(at));
    }

    fn bounded(&self, _: &Room) -> Result<(), DocumentError> {
        Ok(())
    }
}

impl Parts for VoiceSource {
    fn look(&mut self, _: &mut Look) {}

    fn bounded(&self, _: &Room) -> Result<(), DocumentError> {
        match self {
            VoiceSource::OneShot { layers, hold: _ } => at_most("layers of a voice", layers.len(), limits::LAYERS),
            VoiceSource::Empty | VoiceSource::Recording { asset: _, start_frame: _ } => Ok(()),
        }
    }
}

impl Parts for Take {
    fn look(&mut self, _: &mut Look) {}

    fn bounded(&self, _: &Room) -> Result<(), DocumentError> {
        at_most("notes of a take", self.notes.len(), limits::TAKE_NOTES)?;
        at_most("tracks of a take", self.tracks.len(), limits::TAKE_TRACKS)?;
        at_most("remarks of a take", self.remarks.len(), limits::TAKE_TRACKS)
    }
}

impl Parts for StemPlan {
    fn look(&mut self, at: &mut Look) {
        let StemPlan { without, with_buses, tap: _, taps, range, tail: _, depth: _, label: _, with_limiter: _ } = self;
        without.look(at);
        with_buses.look(at);
        for StemChoice { strip, tap: _ } in taps {
            strip.look(at);
        }
        match range {
            StemRange::Section { section } => section.look(at),
            StemRange::Song | StemRange::Bars { from_bar: _, bars: _ } => {}
        }
    }

    fn bounded(&self, room: &Room) -> Result<(), DocumentError> {
        room.rows(self.without.len().max(self.with_buses.len()).max(self.taps.len()))
    }
}

/// Keys of checks hold the ids of what they are about as words of digits.
impl Parts for CheckKey {
    fn look(&mut self, at: &mut Look) {
        let mut words: Vec<String> = self.split(' ').map(str::to_owned).collect();
        // A name may hold digits that are no id.
        if words.first().is_some_and(|w| w == "name") {
            return;
        }
        for word in words.iter_mut().skip(1) {
            if let Ok(mut id) = word.parse::<u32>() {
                (at.id)(&mut id);
                *word = id.to_string();
            }
        }
        *self = CheckKey::cleaned(&words.join(" "), "check");
    }

    fn bounded(&self, _: &Room) -> Result<(), DocumentError> {
        Ok(())
    }
}
