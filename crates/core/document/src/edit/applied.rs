//! What an edit did.

use crate::session::{Patch, Session};
use serde::{Deserialize, Serialize};

/// An edit as it went through.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Applied {
    /// From the document before to the one after.
    pub there: Patch,
    /// And back.
    pub back: Patch,
    /// What was done, in a few words.
    pub label: String,
    /// What was made, in the order of ids.
    pub made: Vec<Made>,
}

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

/// Something that an edit made.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Made {
    /// What it is.
    pub thing: Thing,
    /// Its id.
    pub id: u32,
}

/// What stands in a session under an id from `from` on.
pub(super) fn made(s: &Session, from: u32) -> Vec<Made> {
    let strips = s
        .strips
        .iter()
        .flat_map(|x| x.chain.iter().map(|p| (Thing::Processor, p.id.0)).chain([(Thing::Strip, x.id.0)]));
    let mut made: Vec<Made> = strips
        .chain(s.voices.iter().map(|v| (Thing::Voice, v.id.0)))
        .chain(s.patterns.iter().map(|p| (Thing::Pattern, p.id.0)))
        .chain(s.sections.iter().map(|x| (Thing::Section, x.id.0)))
        .chain(s.takes.iter().map(|t| (Thing::Take, t.id.0)))
        .chain(s.references.iter().map(|r| (Thing::Reference, r.id.0)))
        .filter(|(_, id)| *id >= from)
        .map(|(thing, id)| Made { thing, id })
        .collect();
    made.sort_by_key(|m| m.id);
    made
}
