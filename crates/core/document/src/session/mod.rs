//! The document: everything a session is, as data.

mod audio;
mod document;
mod family;
mod fault;
mod header;
mod ids;
pub mod limits;
mod pan;
mod patch;
mod pattern;
mod reference;
mod role;
mod settle;
mod shared;
mod size;
mod song;
mod stem_plan;
mod strip;
mod table;
mod take;
mod targets;
mod template;
mod time;
mod timeline;
mod validate;
mod voice;

pub use audio::{AssetBank, AssetRef, Audio, AudioError, Incoming};
pub use document::Session;
pub use family::Family;
pub use fault::DocumentError;
pub(crate) use fault::{at_most, in_range};
pub use header::Header;
pub use ids::Thing;
pub use limits::SCHEMA;
pub use pan::PanLaw;
pub use patch::{Change, Patch, PatchError};
pub use pattern::{Hit, Humanise, Part, Pattern, Section};
pub use reference::Reference;
pub use role::Role;
pub use shared::Shared;
pub use size::Size;
pub use song::{BarSpan, Feel, Manner, PlacedSection, Played, Song};
pub use stem_plan::{Depth, StemChoice, StemPlan, StemRange, Tap};
pub use strip::{KEY_SOURCES, Key, Polarity, Processor, SendTap, Strip, StripKind, StripSend};
pub use table::Piece;
pub use take::{KeptTake, Note, NoteKey, Take, TakeGroup};
pub use targets::{LaneTarget, TargetBy, Targets};
pub use template::TemplateKeeps;
pub use time::{Metre, NotATime, Swing, SwingGrid, Tempo};
pub use timeline::{BarPlace, LaneBar, LaneGrid, NameLine, PlacedHit, Timeline};
pub use voice::{Decay, FadeIn, Hold, Layer, PitchSweep, Voice, VoiceSource};

#[cfg(test)]
mod tests;
