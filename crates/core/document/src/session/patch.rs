//! What changed between two documents, whole entity by whole entity: small to send, and exact both ways.

use super::{
    AssetRef, Header, KeptTake, Part, Pattern, Piece, Reference, Section, Session, Shared, StemPlan, Strip, Voice,
};
use crate::held;
use lane_units::{AssetId, CheckKey, StripId};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeSet, HashMap};

/// The change of one list of entities.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Change<T> {
    /// Entities that are new or different, as they are now.
    #[cfg_attr(feature = "describe", ts(as = "Vec<T>"), schemars(with = "Vec<T>"))]
    pub set: Vec<Shared<T>>,
    /// Where every entity keeps its place: the places of those of `set`.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[cfg_attr(feature = "describe", ts(optional, as = "Option<Vec<u32>>"))]
    pub at: Vec<u32>,
    /// Else the length of the list now, and for each place where its entity comes from: an index into the old
    /// list, or `old length + n` for the n-th of `set`.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[cfg_attr(feature = "describe", ts(optional))]
    pub order: Option<Vec<u32>>,
}

impl<T: Piece> Change<T> {
    /// What makes `new` of `old`; nothing where they are equal. Each of a list has a key of its own.
    ///
    /// Cost: linear.
    fn between(old: &[Shared<T>], new: &[Shared<T>]) -> Option<Self> {
        if old == new {
            return None;
        }
        let mut set = Vec::new();
        if old.len() == new.len() && old.iter().zip(new).all(|(o, n)| o.is(n) || o.key() == n.key()) {
            let changed = old.iter().zip(new).enumerate().filter(|(_, (o, n))| o != n);
            let at = changed.map(|(at, (_, n))| {
                set.push(n.clone());
                at as u32
            });
            return Some(Change { at: at.collect(), set, order: None });
        }
        let mut order = Vec::with_capacity(new.len());
        let mut places: Option<HashMap<T::Key<'_>, usize>> = None;
        for (at, entity) in new.iter().enumerate() {
            let wanted = entity.key();
            // Most entities keep their place, so look there first.
            let found = match old.get(at) {
                Some(o) if o.key() == wanted => Some(at),
                _ => {
                    let index = || old.iter().enumerate().map(|(at, o)| (o.key(), at)).collect();
                    places.get_or_insert_with(index).get(&wanted).copied()
                }
            };
            match found {
                Some(place) if old[place] == *entity => order.push(place as u32),
                _ => {
                    order.push((old.len() + set.len()) as u32);
                    set.push(entity.clone());
                }
            }
        }
        Some(Change { set, at: Vec::new(), order: Some(order) })
    }

    fn apply(&self, list: &mut Vec<Shared<T>>) -> Result<(), PatchError> {
        let length = list.len();
        let Some(order) = &self.order else {
            if self.at.len() != self.set.len() {
                return Err(PatchError { place: self.at.len(), length: self.set.len() });
            }
            for (place, entity) in self.at.iter().map(|place| *place as usize).zip(&self.set) {
                *list.get_mut(place).ok_or(PatchError { place, length })? = entity.clone();
            }
            return Ok(());
        };
        let next = order.iter().map(|place| {
            let place = *place as usize;
            let entity = if place < length { list.get(place) } else { self.set.get(place - length) };
            entity.cloned().ok_or(PatchError { place, length })
        });
        *list = next.collect::<Result<_, _>>()?;
        Ok(())
    }
}

/// A patch that was made for another document.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("the patch names place {place} of a list of {length}; it was made for another revision")]
#[expect(missing_docs, reason = "its message says what each is")]
pub struct PatchError {
    pub place: usize,
    pub length: usize,
}

/// What turns one document into another. Fields that did not change are left out.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[cfg_attr(feature = "describe", ts(optional_fields))]
#[serde(default)]
pub struct Patch {
    /// The new header.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub header: Option<Header>,
    /// The next free id.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub next_id: Option<u32>,
    /// Pieces of audio.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub assets: Option<Change<AssetRef>>,
    /// Voices in the order of the board.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub voices: Option<Change<Voice>>,
    /// Channels, triggers, buses, returns and main.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub strips: Option<Change<Strip>>,
    /// Where the mix comes together.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub mix_bus: Option<StripId>,
    /// Patterns.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub patterns: Option<Change<Pattern>>,
    /// Hits of voices in patterns.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub parts: Option<Change<Part>>,
    /// MIDI takes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub takes: Option<Change<KeptTake>>,
    /// The song.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub sections: Option<Change<Section>>,
    /// The new stem plan.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub stem_plan: Option<StemPlan>,
    /// Checks out of sight.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub dismissed: Option<Vec<CheckKey>>,
    /// Recordings that the mix is held against.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub references: Option<Vec<Reference>>,
}

impl Patch {
    /// The patch that makes `new` of `old`.
    pub fn between(old: &Session, new: &Session) -> Self {
        macro_rules! differs {
            (lists { $($list:ident),+ } fields { $($field:ident),+ } numbers { $($number:ident),+ }) => {
                Patch {
                    $($list: Change::between(&old.$list, &new.$list),)+
                    $($field: (old.$field != new.$field).then(|| new.$field.clone()),)+
                    $($number: (old.$number != new.$number).then_some(new.$number)),+
                }
            };
        }
        held!(differs)
    }

    /// The audio that the pieces in it name.
    pub fn audio(&self) -> BTreeSet<&AssetId> {
        let assets = self.assets.iter().flat_map(|change| &change.set).map(|asset| &asset.id);
        let voices = self.voices.iter().flat_map(|change| &change.set).flat_map(|voice| voice.source.assets());
        let references = self.references.iter().flatten().map(|reference| &reference.asset);
        assets.chain(voices).chain(references).collect()
    }

    /// Whether it changes nothing.
    pub fn is_empty(&self) -> bool {
        *self == Patch::default()
    }

    /// Turns the old document into the new one, but for the next free id, which never falls: an id that was given once
    /// is never given again, also after its thing was undone.
    ///
    /// # Errors
    /// [`PatchError`] where the patch was made for another document, which is then left as it was.
    pub fn apply(&self, session: &mut Session) -> Result<(), PatchError> {
        let least = session.next_id;
        self.apply_exactly(session)?;
        let used = session.largest_id().map_or(0, |id| id.saturating_add(1));
        session.next_id = session.next_id.max(least).max(used);
        // A patch from before documents said which bus is the mix bus can take that bus out.
        session.settle_mix_bus();
        Ok(())
    }

    /// Turns the old document into exactly the new one: for a change that nobody else has seen.
    ///
    /// # Errors
    /// [`PatchError`] where the patch was made for another document, which is then left as it was.
    pub fn apply_exactly(&self, session: &mut Session) -> Result<(), PatchError> {
        let mut next = session.clone();
        macro_rules! put {
            (lists { $($list:ident),+ } fields { $($field:ident),+ } numbers { $($number:ident),+ }) => {
                $(if let Some(change) = &self.$list {
                    change.apply(&mut next.$list)?;
                })+
                $(if let Some(field) = &self.$field {
                    next.$field = field.clone();
                })+
                $(if let Some(number) = self.$number {
                    next.$number = number;
                })+
            };
        }
        held!(put);
        *session = next;
        Ok(())
    }
}
