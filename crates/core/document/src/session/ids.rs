//! Everything in a session that has an id, in one place.

use super::Session;
use serde::{Deserialize, Serialize};

/// A thing of a session with an id.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(rename_all = "snake_case")]
pub enum Thing {
    /// A voice.
    Voice,
    /// A channel, trigger, bus, return or main.
    Strip,
    /// A processor of a chain.
    Processor,
    /// A pattern.
    Pattern,
    /// A section of the song.
    Section,
    /// A MIDI take.
    Take,
    /// A recording that the mix is held against.
    Reference,
}

impl Session {
    /// Every id with what it is of. A new list of a document does not compile until it is here, or said to have none.
    pub fn ids(&self) -> impl Iterator<Item = (Thing, u32)> {
        let Session {
            voices,
            strips,
            patterns,
            sections,
            takes,
            references,
            // These have none of their own.
            schema: _,
            header: _,
            assets: _,
            parts: _,
            stem_plan: _,
            dismissed: _,
            mix_bus: _,
            next_id: _,
        } = self;
        let chains = strips.iter().flat_map(|s| s.chain.iter().map(|p| (Thing::Processor, p.id.0)));
        chains
            .chain(strips.iter().map(|s| (Thing::Strip, s.id.0)))
            .chain(voices.iter().map(|v| (Thing::Voice, v.id.0)))
            .chain(patterns.iter().map(|p| (Thing::Pattern, p.id.0)))
            .chain(sections.iter().map(|x| (Thing::Section, x.id.0)))
            .chain(takes.iter().map(|t| (Thing::Take, t.id.0)))
            .chain(references.iter().map(|r| (Thing::Reference, r.id.0)))
    }

    /// The largest id in use.
    pub(crate) fn largest_id(&self) -> Option<u32> {
        self.ids().map(|(_, id)| id).max()
    }
}
