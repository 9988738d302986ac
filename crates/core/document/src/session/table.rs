//! What a document holds, once: patches, pieces in the store and what is taken over follow from this list, and a field that
//! is not in it does not compile.

use super::{AssetRef, KeptTake, Part, Pattern, Section, Session, Strip, Voice};
use lane_units::{AssetId, PatternId, SectionId, StripId, TakeId, VoiceId};
use std::hash::Hash;

/// Hands a macro all that a document holds: lists of pieces, fields that change as a whole, and plain numbers.
#[macro_export]
macro_rules! held {
    ($with:ident) => {
        $with! {
            lists { assets, voices, strips, patterns, parts, takes, sections }
            fields { header, stem_plan, dismissed, references }
            numbers { mix_bus, next_id }
        }
    };
}

macro_rules! whole {
    (lists { $($list:ident),+ } fields { $($field:ident),+ } numbers { $($number:ident),+ }) => {
        const _: fn(Session) = |Session { schema: _, $($list: _,)+ $($field: _,)+ $($number: _),+ }| ();
    };
}
held!(whole);

/// What stands in a list of a document under a key of its own.
pub trait Piece: Clone + PartialEq {
    /// Its key.
    type Key<'a>: Hash + Eq
    where
        Self: 'a;

    /// Its key.
    fn key(&self) -> Self::Key<'_>;

    /// The same as text.
    fn key_text(&self) -> String;
}

macro_rules! by_number {
    ($($piece:ident: $id:ident),+) => {
        $(impl Piece for $piece {
            type Key<'a> = $id;

            fn key(&self) -> $id {
                self.id
            }

            fn key_text(&self) -> String {
                self.id.0.to_string()
            }
        })+
    };
}
by_number! { Voice: VoiceId, Strip: StripId, Pattern: PatternId, KeptTake: TakeId, Section: SectionId }

impl Piece for AssetRef {
    type Key<'a> = &'a AssetId;

    fn key(&self) -> &AssetId {
        &self.id
    }

    fn key_text(&self) -> String {
        self.id.0.clone()
    }
}

impl Piece for Part {
    type Key<'a> = (PatternId, VoiceId);

    fn key(&self) -> (PatternId, VoiceId) {
        (self.pattern, self.voice)
    }

    fn key_text(&self) -> String {
        format!("{}.{}", self.pattern.0, self.voice.0)
    }
}
