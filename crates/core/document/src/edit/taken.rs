//! What is taken over from another state of the same session: pieces by their ids, whatever else changed meanwhile.

use super::EditError;
use super::intent::Intent;
use super::label::Words;
use super::parts::{Look, Parts, Room, parts};
use crate::session::{
    AssetRef, DocumentError, Header, KeptTake, Part, Pattern, Reference, Section, Session, Shared, StemPlan, Strip,
    Voice, at_most, limits,
};
use lane_units::{CheckKey, Name, StripId};
use serde::{Deserialize, Serialize};
use std::collections::{HashMap, HashSet};

/// What names a piece of a list: its id and 0; of hits, pattern and voice.
pub type PieceKey = [u32; 2];

/// Something that stands in a list of a document under a key of its own.
pub trait Keyed {
    /// Its key.
    fn key(&self) -> PieceKey;
}

macro_rules! keyed {
    ($($type:ty),*) => {$(
        impl Keyed for $type {
            fn key(&self) -> PieceKey {
                [self.id.0, 0]
            }
        }
    )*};
}
keyed!(Voice, Strip, Pattern, KeptTake, Section);

impl Keyed for Part {
    fn key(&self) -> PieceKey {
        [self.pattern.0, self.voice.0]
    }
}

/// What becomes of one list.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct TakenPieces<T> {
    /// Pieces as they are to be: instead of those of the same key, or new.
    #[cfg_attr(feature = "describe", ts(as = "Vec<T>"), schemars(with = "Vec<T>"))]
    pub set: Vec<Shared<T>>,
    /// Keys of those that go.
    pub gone: Vec<PieceKey>,
    /// Keys in the order that they are to have, where that changes; what is not named stays behind what it stands behind.
    pub order: Vec<PieceKey>,
}

// Written out, since nothing is asked of what stands in the lists.
impl<T> Default for TakenPieces<T> {
    fn default() -> Self {
        TakenPieces { set: Vec::new(), gone: Vec::new(), order: Vec::new() }
    }
}

impl<T: Keyed + Clone + PartialEq> TakenPieces<T> {
    fn between(now: &[Shared<T>], then: &[Shared<T>]) -> Self {
        let known: HashMap<PieceKey, &Shared<T>> = now.iter().map(|x| (x.key(), x)).collect();
        let left: HashSet<PieceKey> = then.iter().map(|x| x.key()).collect();
        let set = then.iter().filter(|x| known.get(&x.key()).is_none_or(|old| *old != *x)).cloned().collect();
        let gone: Vec<PieceKey> = now.iter().map(|x| x.key()).filter(|key| !left.contains(key)).collect();
        let order: Vec<PieceKey> = then.iter().map(|x| x.key()).collect();
        let stays = now.iter().map(|x| x.key()).filter(|key| left.contains(key)).eq(order.iter().copied());
        TakenPieces { set, gone, order: if stays { Vec::new() } else { order } }
    }

    fn apply(&self, list: &mut Vec<Shared<T>>) {
        if !self.gone.is_empty() {
            let gone: HashSet<PieceKey> = self.gone.iter().copied().collect();
            list.retain(|x| !gone.contains(&x.key()));
        }
        let mut places: HashMap<PieceKey, usize> = list.iter().enumerate().map(|(at, x)| (x.key(), at)).collect();
        for piece in &self.set {
            match places.get(&piece.key()) {
                Some(at) => list[*at] = piece.clone(),
                None => {
                    places.insert(piece.key(), list.len());
                    list.push(piece.clone());
                }
            }
        }
        if self.order.is_empty() {
            return;
        }
        let wanted: HashMap<PieceKey, usize> = self.order.iter().enumerate().map(|(at, key)| (*key, at)).collect();
        // What is not named goes with what stands before it.
        let mut last = 0;
        let ranks: Vec<usize> = list
            .iter()
            .map(|x| {
                last = wanted.get(&x.key()).copied().unwrap_or(last);
                last
            })
            .collect();
        let mut by_rank: Vec<(usize, Shared<T>)> = ranks.into_iter().zip(list.drain(..)).collect();
        by_rank.sort_by_key(|(rank, _)| *rank);
        list.extend(by_rank.into_iter().map(|(_, x)| x));
    }

    fn len(&self) -> usize {
        self.set.len().max(self.gone.len()).max(self.order.len())
    }
}

/// What is taken over.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(default)]
pub struct Taken {
    /// The header, whose sample rate stays.
    pub header: Option<Header>,
    /// Where the mix comes together.
    pub mix_bus: Option<StripId>,
    /// What is tracked out.
    pub stem_plan: Option<StemPlan>,
    /// Checks out of sight.
    pub dismissed: Option<Vec<CheckKey>>,
    /// Recordings that the mix is held against.
    pub references: Option<Vec<Reference>>,
    /// Audio that is named, as far as it is new.
    #[cfg_attr(feature = "describe", ts(as = "Vec<AssetRef>"), schemars(with = "Vec<AssetRef>"))]
    pub assets: Vec<Shared<AssetRef>>,
    /// Voices.
    pub voices: TakenPieces<Voice>,
    /// Channels, triggers, buses, returns and main.
    pub strips: TakenPieces<Strip>,
    /// Patterns.
    pub patterns: TakenPieces<Pattern>,
    /// Hits.
    pub parts: TakenPieces<Part>,
    /// MIDI takes.
    pub takes: TakenPieces<KeptTake>,
    /// The song.
    pub sections: TakenPieces<Section>,
}

macro_rules! whole {
    (lists { $($list:ident),+ } fields { $($field:ident),+ } numbers { $mix_bus:ident, $next_id:ident }) => {
        // The next free id is never taken over.
        const _: fn(Taken) = |Taken { $($list: _,)+ $($field: _,)+ $mix_bus: _ }| ();
    };
}
crate::held!(whole);

/// Its pieces are named as they were known to the server.
impl Parts for Taken {
    fn look(&mut self, at: &mut Look) {
        self.assets.iter_mut().for_each(|asset| asset.look(at));
    }

    fn bounded(&self, _: &Room) -> Result<(), DocumentError> {
        at_most("pieces that are taken over", self.rows(), limits::PARTS)
    }
}

impl Taken {
    /// What makes `then` of `now`, two states of one session.
    pub fn between(now: &Session, then: &Session) -> Self {
        let known: HashSet<_> = now.assets.iter().map(|a| &a.id).collect();
        Taken {
            header: (now.header != then.header).then(|| then.header.clone()),
            mix_bus: (now.mix_bus != then.mix_bus).then_some(then.mix_bus),
            stem_plan: (now.stem_plan != then.stem_plan).then(|| then.stem_plan.clone()),
            dismissed: (now.dismissed != then.dismissed).then(|| then.dismissed.clone()),
            references: (now.references != then.references).then(|| then.references.clone()),
            assets: then.assets.iter().filter(|a| !known.contains(&a.id)).cloned().collect(),
            voices: TakenPieces::between(&now.voices, &then.voices),
            strips: TakenPieces::between(&now.strips, &then.strips),
            patterns: TakenPieces::between(&now.patterns, &then.patterns),
            parts: TakenPieces::between(&now.parts, &then.parts),
            takes: TakenPieces::between(&now.takes, &then.takes),
            sections: TakenPieces::between(&now.sections, &then.sections),
        }
    }

    /// The longest of its lists.
    fn rows(&self) -> usize {
        let lists = [self.voices.len(), self.strips.len(), self.patterns.len(), self.takes.len(), self.sections.len()];
        lists.into_iter().max().unwrap_or(0).max(self.parts.len()).max(self.assets.len())
    }

    pub(super) fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        if let Some(header) = &self.header {
            if header.sample_rate != s.header.sample_rate {
                return Err(EditError::SampleRateFixed);
            }
            s.header = header.clone();
        }
        let known: HashSet<_> = s.assets.iter().map(|a| a.id.clone()).collect();
        s.assets.extend(self.assets.iter().filter(|a| !known.contains(&a.id)).cloned());
        self.voices.apply(&mut s.voices);
        self.strips.apply(&mut s.strips);
        self.patterns.apply(&mut s.patterns);
        self.parts.apply(&mut s.parts);
        self.takes.apply(&mut s.takes);
        self.sections.apply(&mut s.sections);
        s.mix_bus = self.mix_bus.unwrap_or(s.mix_bus);
        if let Some(plan) = &self.stem_plan {
            s.stem_plan = plan.clone();
        }
        if let Some(dismissed) = &self.dismissed {
            s.dismissed = dismissed.clone();
        }
        if let Some(references) = &self.references {
            s.references = references.clone();
        }
        let used = s.largest_id().map_or(0, |id| id.saturating_add(1));
        s.next_id = s.next_id.max(used);
        Ok(())
    }
}

/// What is taken over from another state of the same session.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct TakeOver {
    /// What it is, in a few words.
    pub name: Name,
    /// The pieces.
    pub taken: Box<Taken>,
}
parts!(TakeOver { name, taken });

impl Intent for TakeOver {
    fn label(&self, _: &Words) -> String {
        format!("Take over {}", self.name)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        self.taken.apply(s)
    }
}
