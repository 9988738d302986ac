//! What a person can do to a document. An edit is one intent; applying it gives the patch there and the
//! patch back, so that everything can be undone.

mod balance;
mod chain;
mod find;
mod hits;
mod insert;
mod label;
mod lanes;
mod parts;
mod song;
mod strips;
mod takes;

pub use balance::MovedValue;
pub use chain::ProcessorChange;
pub use hits::{BarRange, HitsChange};
pub use insert::{Insertion, StripMap, proposed_map};
pub use lanes::{Cut, NewHits, NewVoice, Piece, PieceVoice};
pub use strips::{BusGroup, StripChange};
pub use takes::{Split, SplitTarget, TakeSound};

use crate::dsp::Settings;
use crate::routing;
use crate::session::{
    AssetRef, DocumentError, Family, Header, Hit, Humanise, Key, Patch, Pattern, Processor, Section, Session, Size,
    StemPlan, StripSend, Swing, Take, VoiceSource, limits,
};
use crate::units::{CheckKey, Name, PatternId, ProcessorId, SectionId, StripId, StripName, TakeId, VoiceId};
use serde::de::{SeqAccess, Visitor};
use serde::{Deserialize, Deserializer, Serialize};
use std::fmt;

/// One intent of a person.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Edit {
    /// Title, tempo, metre, swing, key, pan law. The sample rate stays.
    SetHeader {
        /// As it is to be.
        header: Header,
    },
    /// Voices, each on a channel of its own. `assets` are added where they are new.
    AddVoices {
        /// In the order of the board.
        voices: Vec<NewVoice>,
        /// Audio that they name.
        assets: Vec<AssetRef>,
    },
    /// Voices with their hits, and the channels that this leaves empty.
    RemoveVoices {
        /// Those to go.
        voices: Vec<VoiceId>,
    },
    /// A voice under another name.
    RenameVoice {
        /// The voice.
        voice: VoiceId,
        /// Its new name.
        name: Name,
    },
    /// A voice in another family.
    SetFamily {
        /// The voice.
        voice: VoiceId,
        /// Its new family.
        family: Family,
    },
    /// Moves a voice to a row of the board, counted from 0.
    MoveVoice {
        /// The voice.
        voice: VoiceId,
        /// The row, from 0.
        to: u32,
    },
    /// What a voice plays.
    SetSource {
        /// The voice.
        voice: VoiceId,
        /// What it is to play.
        source: VoiceSource,
        /// Audio that this names.
        assets: Vec<AssetRef>,
    },
    /// All hits of a voice in a pattern.
    SetHits {
        /// The pattern.
        pattern: PatternId,
        /// The voice; one that follows has none of its own.
        voice: VoiceId,
        /// All that it is to play.
        hits: Vec<Hit>,
    },
    /// A new pattern; with `copy_of`, its hits too.
    AddPattern {
        /// What it is called.
        name: Name,
        /// How long it is.
        bars: u32,
        /// Whose hits it begins with.
        copy_of: Option<PatternId>,
    },
    /// Name and length of a pattern; hits behind a new end are dropped.
    SetPattern {
        /// As it is to be.
        pattern: Pattern,
    },
    /// A pattern that no section plays.
    RemovePattern {
        /// That to go.
        pattern: PatternId,
    },
    /// A new section at a place of the song, counted from 0.
    AddSection {
        /// What it is called.
        name: Name,
        /// What it plays.
        pattern: PatternId,
        /// How long it is.
        bars: u32,
        /// Its place, from 0.
        at: u32,
    },
    /// Name, pattern and length of a section.
    SetSection {
        /// As it is to be.
        section: Section,
    },
    /// A new pattern for a section, empty or as the one that it plays, called by the next free letter.
    GivePattern {
        /// The section.
        section: SectionId,
        /// Whether it begins with the hits of the one before.
        copy: bool,
    },
    /// A section; the song has at least one.
    RemoveSection {
        /// That to go.
        section: SectionId,
    },
    /// A section at another place of the song.
    MoveSection {
        /// The section.
        section: SectionId,
        /// Its place, from 0.
        to: u32,
    },
    /// Hits of voices in some bars, by rule.
    ChangeHits {
        /// The pattern.
        pattern: PatternId,
        /// Whose hits change.
        voices: Vec<VoiceId>,
        /// The bars of the pattern.
        range: BarRange,
        /// The rule.
        change: HitsChange,
    },
    /// A loop of their own for voices within a pattern, or the pattern's again.
    SetLoop {
        /// The pattern.
        pattern: PatternId,
        /// Whose loop it is.
        voices: Vec<VoiceId>,
        /// Its length; the pattern's where not said.
        ticks: Option<u32>,
    },
    /// Small variations of voices within a pattern, or none.
    Humanise {
        /// The pattern.
        pattern: PatternId,
        /// Whose hits vary.
        voices: Vec<VoiceId>,
        /// How much; not at all where not said.
        by: Option<Humanise>,
    },
    /// A pattern twice as long that plays its hits twice.
    DoublePattern {
        /// That to grow.
        pattern: PatternId,
    },
    /// A MIDI take, kept and split as proposed: hits for lanes of the same name, new lanes for the rest. An
    /// untouched song takes over tempo and metre.
    AddTake {
        /// As it came.
        take: Take,
        /// Sounds for its notes.
        sounds: Vec<TakeSound>,
    },
    /// A kept take split in another way.
    SplitTake {
        /// The take.
        take: TakeId,
        /// Which notes go to which voice.
        splits: Vec<Split>,
    },
    /// Forgets a take; its hits stay.
    RemoveTake {
        /// That to go.
        take: TakeId,
    },
    /// A loop as pieces on voices of their own; the loop itself is muted.
    CutLoop {
        /// Pieces, voices and what remains.
        cut: Cut,
    },
    /// A choke set for voices, or none.
    SetChoke {
        /// The voices.
        voices: Vec<VoiceId>,
        /// The set's number.
        set: Option<u8>,
    },
    /// A swing of their own for voices, or the session's.
    SetVoiceSwing {
        /// The voices.
        voices: Vec<VoiceId>,
        /// Their swing.
        swing: Option<Swing>,
    },
    /// The hits of another voice instead of its own; set free, it goes on with a copy of them.
    Follow {
        /// The voice that is to follow, or to be free.
        voice: VoiceId,
        /// Whom it follows.
        leader: Option<VoiceId>,
    },
    /// A copy of a lane on a channel of its own.
    DuplicateVoice {
        /// That to copy.
        voice: VoiceId,
        /// Whether the copy has the settings of the channel too.
        with_chain: bool,
        /// Whether it follows the first lane's pattern.
        follows: bool,
    },
    /// A strip under another name; a channel without one is called after its voices.
    RenameStrip {
        /// The strip.
        strip: StripId,
        /// Its new name.
        name: StripName,
    },
    /// The same change on one or more strips.
    SetStrips {
        /// The strips.
        strips: Vec<StripId>,
        /// What changes.
        change: StripChange,
    },
    /// A value of one or more strips, moved by the same amount, so that they keep their balance. Where one comes to its
    /// limit all stop; what is off stays off, unless all are.
    MoveValues {
        /// The strips.
        strips: Vec<StripId>,
        /// Which value.
        value: MovedValue,
        /// In the value's unit; in octaves where it runs by ratio.
        by: f64,
    },
    /// Where strips go; nothing is allowed.
    SetOutput {
        /// The strips.
        strips: Vec<StripId>,
        /// Where they go.
        output: Option<StripId>,
    },
    /// Each of the voices on a channel that it has for itself.
    OwnChannels {
        /// The voices.
        voices: Vec<VoiceId>,
    },
    /// Voices onto a channel that exists.
    ShareChannel {
        /// The voices.
        voices: Vec<VoiceId>,
        /// The channel or trigger.
        channel: StripId,
    },
    /// A new bus that takes the strips and goes where the first of them went; numbered where its name is taken.
    NewBus {
        /// What it is called.
        name: Name,
        /// What goes to it.
        feeders: Vec<StripId>,
    },
    /// Buses for groups of strips in one step, made where they are missing.
    GroupOnBuses {
        /// Buses with what goes to them.
        groups: Vec<BusGroup>,
    },
    /// A new return on the mix bus, with sends from strips at 0 dB after their faders; numbered where its name is taken.
    NewReturn {
        /// What it is called.
        name: Name,
        /// What sends to it.
        feeders: Vec<StripId>,
        /// With its fader off, to be raised by ear.
        silent: bool,
    },
    /// A bus or a return; what went to it goes on to another bus, to main, or to nothing.
    RemoveStrip {
        /// That to go.
        strip: StripId,
        /// Where what went to it goes on to.
        feeders_to: Option<StripId>,
    },
    /// Another bus, or main, where the mix comes together and new rows go.
    SetMixBus {
        /// A bus, or main.
        strip: StripId,
    },
    /// The same send on one or more strips, instead of what they send there.
    SetSend {
        /// The strips that send.
        strips: Vec<StripId>,
        /// Where to, and how.
        send: StripSend,
    },
    /// What strips send to a return, taken out.
    RemoveSends {
        /// The strips that send.
        strips: Vec<StripId>,
        /// The return.
        to: StripId,
    },
    /// Lanes as triggers that only feed keys, or as lanes that are heard again.
    SetTriggers {
        /// The voices.
        voices: Vec<VoiceId>,
        /// Whether they are triggers now.
        trigger: bool,
    },
    /// A trigger that plays what a lane plays: by following it, or with a copy of its hits.
    NewTrigger {
        /// The voice that it plays like.
        like: VoiceId,
        /// Whether it follows, rather than having a copy.
        follows: bool,
    },
    /// The same processor in one or more chains, at a place counted from 0, or at their ends.
    AddProcessor {
        /// The strips.
        strips: Vec<StripId>,
        /// What it is and how it is set.
        settings: Settings,
        /// What it listens to.
        key: Option<Key>,
        /// The place, from 0; the end where not said.
        at: Option<u32>,
    },
    /// Processors of a chain, taken out.
    RemoveProcessors {
        /// The strip.
        strip: StripId,
        /// Those to go.
        processors: Vec<ProcessorId>,
    },
    /// Moves a processor to a place of its chain, counted from 0.
    MoveProcessor {
        /// The strip.
        strip: StripId,
        /// The processor.
        processor: ProcessorId,
        /// Its place, from 0.
        to: u32,
    },
    /// A value of a processor.
    SetProcessor {
        /// The strip.
        strip: StripId,
        /// The processor.
        processor: ProcessorId,
        /// What changes.
        change: ProcessorChange,
    },
    /// Processors, all of a chain where none are named, onto other strips: behind what they have, or instead.
    CopyChain {
        /// The strip that has them.
        from: StripId,
        /// Which of them; all where none are named.
        processors: Vec<ProcessorId>,
        /// The strips that get them.
        to: Vec<StripId>,
        /// Instead of what these have.
        replace: bool,
    },
    /// Processors as they are given, under ids of their own, in one or more chains: at a place counted from 0, or at
    /// their ends, or instead of what is there.
    InsertProcessors {
        /// The strips.
        strips: Vec<StripId>,
        /// As they are given.
        processors: Vec<Processor>,
        /// The place, from 0; the end where not said.
        at: Option<u32>,
        /// Instead of what is there.
        replace: bool,
    },
    /// Another order of a chain: all of its processors, each once.
    OrderChain {
        /// The strip.
        strip: StripId,
        /// All of its processors in the new order.
        order: Vec<ProcessorId>,
    },
    /// Which stems are tracked out, and how.
    SetStemPlan {
        /// As it is to be.
        plan: StemPlan,
    },
    /// A check out of sight, or in sight again.
    DismissCheck {
        /// Which.
        key: CheckKey,
        /// Whether it is out of sight.
        dismissed: bool,
    },
    /// Lanes of another session or a template, with their chains, buses, returns and sends.
    InsertLanes {
        /// The other session, and which of its lanes.
        insertion: Box<Insertion>,
    },
    /// Several edits as one.
    Batch {
        /// In order.
        #[serde(deserialize_with = "at_most_edits")]
        edits: Vec<Edit>,
    },
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

/// Why an edit was refused. The document is as it was.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[expect(missing_docs, reason = "its message says what each is")]
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
    #[error("{name} follows {leader}; change the hits there, or set {name} free first")]
    Follows { name: String, leader: String },
    #[error("there are no hits to do this to")]
    NoHits,
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
    /// What was done, in a few words.
    pub label: String,
    /// What was made, in the order of ids.
    pub made: Vec<Made>,
}

/// A thing of a session with an id.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
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
}

/// Something that an edit made.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Made {
    /// What it is.
    pub thing: Thing,
    /// Its id.
    pub id: u32,
}

/// What stands in a session under an id from `from` on.
fn made(s: &Session, from: u32) -> Vec<Made> {
    let strips = s
        .strips
        .iter()
        .flat_map(|x| x.chain.iter().map(|p| (Thing::Processor, p.id.0)).chain([(Thing::Strip, x.id.0)]));
    let mut made: Vec<Made> = strips
        .chain(s.voices.iter().map(|v| (Thing::Voice, v.id.0)))
        .chain(s.patterns.iter().map(|p| (Thing::Pattern, p.id.0)))
        .chain(s.sections.iter().map(|x| (Thing::Section, x.id.0)))
        .chain(s.takes.iter().map(|t| (Thing::Take, t.id.0)))
        .filter(|(_, id)| *id >= from)
        .map(|(thing, id)| Made { thing, id })
        .collect();
    made.sort_by_key(|m| m.id);
    made
}

/// Applies an edit: all of it, or nothing.
///
/// Lists of the edit are checked before the work. In a batch, sizes and references are checked after each step, so
/// that the next one finds a document that hangs together; values and loops are checked once at its end.
///
/// # Errors
/// [`EditError`] with what is wrong and where; the session is then unchanged.
///
/// Cost: linear in the document, and in the edit times the lists that it names.
pub fn apply(session: &mut Session, edit: &Edit) -> Result<Applied, EditError> {
    edit.bounded()?;
    let size = Size::of(session);
    let mut next = session.clone();
    change(&mut next, edit, &size)?;
    drop_unused_assets(&mut next);
    size.allows(&next)?;
    next.validate()?;
    routing::order(&next)?;
    let applied = Applied {
        there: Patch::between(session, &next),
        back: Patch::between(&next, session),
        label: edit.label(session),
        made: made(&next, session.next_id),
    };
    *session = next;
    Ok(applied)
}

fn change(s: &mut Session, edit: &Edit, size: &Size) -> Result<(), EditError> {
    match edit {
        Edit::SetHeader { header } => song::set_header(s, header),
        Edit::AddVoices { voices, assets } => lanes::add_voices(s, voices, assets),
        Edit::RemoveVoices { voices } => lanes::remove_voices(s, voices),
        Edit::RenameVoice { voice, name } => lanes::rename(s, *voice, name),
        Edit::SetFamily { voice, family } => find::voice_mut(s, *voice).map(|v| v.family = *family),
        Edit::MoveVoice { voice, to } => lanes::move_voice(s, *voice, *to),
        Edit::SetSource { voice, source, assets } => lanes::set_source(s, *voice, source, assets),
        Edit::SetHits { pattern, voice, hits } => song::set_hits(s, *pattern, *voice, hits.clone()),
        Edit::AddPattern { name, bars, copy_of } => song::add_pattern(s, name, *bars, *copy_of),
        Edit::SetPattern { pattern } => song::set_pattern(s, pattern),
        Edit::RemovePattern { pattern } => song::remove_pattern(s, *pattern),
        Edit::AddSection { name, pattern, bars, at } => song::add_section(s, name, *pattern, *bars, *at),
        Edit::SetSection { section } => song::set_section(s, section),
        Edit::GivePattern { section, copy } => song::give_pattern(s, *section, *copy),
        Edit::RemoveSection { section } => song::remove_section(s, *section),
        Edit::MoveSection { section, to } => song::move_section(s, *section, *to),
        Edit::ChangeHits { pattern, voices, range, change } => hits::change(s, *pattern, voices, *range, change),
        Edit::SetLoop { pattern, voices, ticks } => song::set_loop(s, *pattern, voices, *ticks),
        Edit::Humanise { pattern, voices, by } => song::humanise(s, *pattern, voices, *by),
        Edit::DoublePattern { pattern } => song::double_pattern(s, *pattern),
        Edit::AddTake { take, sounds } => takes::add(s, take, sounds),
        Edit::SplitTake { take, splits } => takes::split(s, *take, splits),
        Edit::RemoveTake { take } => takes::remove(s, *take),
        Edit::CutLoop { cut } => lanes::cut(s, cut),
        Edit::SetChoke { voices, set } => lanes::each(s, voices, |v| v.choke_set = *set),
        Edit::SetVoiceSwing { voices, swing } => lanes::each(s, voices, |v| v.swing = *swing),
        Edit::Follow { voice, leader } => lanes::follow(s, *voice, *leader),
        Edit::DuplicateVoice { voice, with_chain, follows } => {
            lanes::duplicate(s, *voice, *with_chain, *follows).map(|_| ())
        }
        Edit::RenameStrip { strip, name } => strips::rename(s, *strip, name),
        Edit::SetStrips { strips, change } => strips::set(s, strips, change),
        Edit::MoveValues { strips, value, by } => balance::move_values(s, strips, value, *by),
        Edit::SetOutput { strips, output } => strips::set_output(s, strips, *output),
        Edit::OwnChannels { voices } => strips::own_channels(s, voices),
        Edit::ShareChannel { voices, channel } => strips::share_channel(s, voices, *channel),
        Edit::NewBus { name, feeders } => strips::new_bus(s, name, feeders),
        Edit::GroupOnBuses { groups } => strips::group_on_buses(s, groups),
        Edit::NewReturn { name, feeders, silent } => strips::new_return(s, name, feeders, *silent),
        Edit::RemoveStrip { strip, feeders_to } => strips::remove_strip(s, *strip, *feeders_to),
        Edit::SetMixBus { strip } => strips::set_mix_bus(s, *strip),
        Edit::SetSend { strips, send } => strips::set_send(s, strips, send),
        Edit::RemoveSends { strips, to } => strips::remove_sends(s, strips, *to),
        Edit::SetTriggers { voices, trigger } => strips::set_triggers(s, voices, *trigger),
        Edit::NewTrigger { like, follows } => lanes::new_trigger(s, *like, *follows),
        Edit::AddProcessor { strips, settings, key, at } => chain::add(s, strips, settings, *key, *at),
        Edit::RemoveProcessors { strip, processors } => chain::remove(s, *strip, processors),
        Edit::MoveProcessor { strip, processor, to } => chain::move_to(s, *strip, *processor, *to),
        Edit::SetProcessor { strip, processor, change } => chain::set(s, *strip, *processor, change),
        Edit::InsertProcessors { strips, processors, at, replace } => {
            chain::insert(s, strips, processors, *at, *replace)
        }
        Edit::OrderChain { strip, order } => chain::order(s, *strip, order),
        Edit::CopyChain { from, processors, to, replace } => chain::copy(s, *from, processors, to, *replace),
        Edit::SetStemPlan { plan } => {
            s.stem_plan = plan.clone();
            Ok(())
        }
        Edit::DismissCheck { key, dismissed } => {
            s.dismissed.retain(|k| k != key);
            if *dismissed {
                s.dismissed.push(key.clone());
            }
            Ok(())
        }
        Edit::InsertLanes { insertion } => insert::insert(s, insertion),
        Edit::Batch { edits } => edits.iter().try_for_each(|edit| {
            change(s, edit, size)?;
            size.allows(s)?;
            Ok(s.validate_references()?)
        }),
    }
}

fn drop_unused_assets(s: &mut Session) {
    let used: std::collections::HashSet<_> = s.voices.iter().flat_map(|v| v.source.assets()).cloned().collect();
    s.assets.retain(|a| used.contains(&a.id));
}

#[cfg(test)]
mod tests;
