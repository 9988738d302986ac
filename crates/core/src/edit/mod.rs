//! What a person can do to a document. An edit is one intent; applying it gives the patch there and the
//! patch back, so that everything can be undone.

mod lanes;
mod song;
mod strips;

pub use lanes::{NewHits, NewVoice};
pub use strips::StripChange;

use crate::midi::Take;
use crate::routing;
use crate::session::{
    AssetRef, DocumentError, Family, Header, Hit, Patch, Pattern, Section, Session, StemPlan, VoiceSource,
};
use crate::units::{PatternId, SectionId, StripId, VoiceId};
use serde::{Deserialize, Serialize};

/// One intent of a person.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Edit {
    /// Title, tempo, metre, swing, key, pan law. The sample rate stays.
    SetHeader {
        header: Header,
    },
    /// Voices, each on a channel of its own. `assets` are added where they are new.
    AddVoices {
        voices: Vec<NewVoice>,
        assets: Vec<AssetRef>,
    },
    /// Voices with their hits, and the channels that this leaves empty.
    RemoveVoices {
        voices: Vec<VoiceId>,
    },
    RenameVoice {
        voice: VoiceId,
        name: String,
    },
    SetFamily {
        voice: VoiceId,
        family: Family,
    },
    /// Moves a voice to a row of the board, counted from 0.
    MoveVoice {
        voice: VoiceId,
        to: u32,
    },
    SetSource {
        voice: VoiceId,
        source: VoiceSource,
        assets: Vec<AssetRef>,
    },
    /// All hits of a voice in a pattern.
    SetHits {
        pattern: PatternId,
        voice: VoiceId,
        hits: Vec<Hit>,
    },
    /// A new pattern; with `copy_of`, its hits too.
    AddPattern {
        name: String,
        bars: u32,
        copy_of: Option<PatternId>,
    },
    /// Name and length of a pattern; hits behind a new end are dropped.
    SetPattern {
        pattern: Pattern,
    },
    /// A pattern that no section plays.
    RemovePattern {
        pattern: PatternId,
    },
    /// A new section at a place of the song, counted from 0.
    AddSection {
        name: String,
        pattern: PatternId,
        bars: u32,
        at: u32,
    },
    SetSection {
        section: Section,
    },
    RemoveSection {
        section: SectionId,
    },
    MoveSection {
        section: SectionId,
        to: u32,
    },
    /// A MIDI take: hits for lanes of the same name, new lanes for the rest, in a pattern and section of
    /// their own; an untouched song takes over tempo and metre. `sounds` are for new lanes, by lane name.
    AddTake {
        take: Take,
        sounds: Vec<TakeSound>,
    },
    RenameStrip {
        strip: StripId,
        name: String,
    },
    /// The same change on one or more strips.
    SetStrips {
        strips: Vec<StripId>,
        change: StripChange,
    },
    /// Where strips go; nothing is allowed.
    SetOutput {
        strips: Vec<StripId>,
        output: Option<StripId>,
    },
    /// Each of the voices on a channel that it has for itself.
    OwnChannels {
        voices: Vec<VoiceId>,
    },
    /// Voices onto a channel that exists.
    ShareChannel {
        voices: Vec<VoiceId>,
        channel: StripId,
    },
    /// A new bus that takes the strips and goes where the first of them went.
    NewBus {
        name: String,
        feeders: Vec<StripId>,
    },
    /// A bus; what fed it goes where it went.
    RemoveBus {
        bus: StripId,
    },
    SetStemPlan {
        plan: StemPlan,
    },
    /// Several edits as one.
    Batch {
        edits: Vec<Edit>,
    },
}

/// A ready sound for a lane of a take.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct TakeSound {
    pub lane: String,
    pub asset: AssetRef,
}

/// Why an edit was refused. The document is as it was.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum EditError {
    #[error("{what} is not in the session any more")]
    Gone { what: String },
    #[error("the sample rate of a session is fixed when it is made")]
    SampleRateFixed,
    #[error("pattern {name} is played by section {section}; change or remove the section first")]
    PatternInUse { name: String, section: String },
    #[error("{name} is not a {wanted}")]
    WrongKind { name: String, wanted: &'static str },
    #[error("nothing was chosen")]
    Nothing,
    #[error("the take has no notes")]
    EmptyTake,
    #[error(transparent)]
    Document(#[from] DocumentError),
}

/// An edit as it went through.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Applied {
    /// From the document before to the one after.
    pub there: Patch,
    /// And back.
    pub back: Patch,
}

/// Applies an edit: all of it, or nothing.
///
/// # Errors
/// [`EditError`] with what is wrong and where; the session is then unchanged.
pub fn apply(session: &mut Session, edit: &Edit) -> Result<Applied, EditError> {
    let mut next = session.clone();
    change(&mut next, edit)?;
    drop_unused_assets(&mut next);
    next.validate()?;
    routing::order(&next)?;
    let applied = Applied { there: Patch::between(session, &next), back: Patch::between(&next, session) };
    *session = next;
    Ok(applied)
}

fn change(s: &mut Session, edit: &Edit) -> Result<(), EditError> {
    match edit {
        Edit::SetHeader { header } => song::set_header(s, header),
        Edit::AddVoices { voices, assets } => lanes::add_voices(s, voices, assets),
        Edit::RemoveVoices { voices } => lanes::remove_voices(s, voices),
        Edit::RenameVoice { voice, name } => lanes::rename(s, *voice, name),
        Edit::SetFamily { voice, family } => lanes::voice_mut(s, *voice).map(|v| v.family = *family),
        Edit::MoveVoice { voice, to } => lanes::move_voice(s, *voice, *to),
        Edit::SetSource { voice, source, assets } => lanes::set_source(s, *voice, source, assets),
        Edit::SetHits { pattern, voice, hits } => song::set_hits(s, *pattern, *voice, hits.clone()),
        Edit::AddPattern { name, bars, copy_of } => song::add_pattern(s, name, *bars, *copy_of),
        Edit::SetPattern { pattern } => song::set_pattern(s, pattern),
        Edit::RemovePattern { pattern } => song::remove_pattern(s, *pattern),
        Edit::AddSection { name, pattern, bars, at } => song::add_section(s, name, *pattern, *bars, *at),
        Edit::SetSection { section } => song::set_section(s, section),
        Edit::RemoveSection { section } => song::remove_section(s, *section),
        Edit::MoveSection { section, to } => song::move_section(s, *section, *to),
        Edit::AddTake { take, sounds } => lanes::add_take(s, take, sounds),
        Edit::RenameStrip { strip, name } => strips::rename(s, *strip, name),
        Edit::SetStrips { strips, change } => strips::set(s, strips, change),
        Edit::SetOutput { strips, output } => strips::set_output(s, strips, *output),
        Edit::OwnChannels { voices } => strips::own_channels(s, voices),
        Edit::ShareChannel { voices, channel } => strips::share_channel(s, voices, *channel),
        Edit::NewBus { name, feeders } => strips::new_bus(s, name, feeders),
        Edit::RemoveBus { bus } => strips::remove_bus(s, *bus),
        Edit::SetStemPlan { plan } => {
            s.stem_plan = plan.clone();
            Ok(())
        }
        Edit::Batch { edits } => edits.iter().try_for_each(|e| change(s, e)),
    }
}

fn drop_unused_assets(s: &mut Session) {
    let used: std::collections::HashSet<_> = s.voices.iter().flat_map(|v| v.source.assets()).cloned().collect();
    s.assets.retain(|a| used.contains(&a.id));
}

#[cfg(test)]
mod tests;
