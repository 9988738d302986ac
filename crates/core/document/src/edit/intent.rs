//! Every intent that a person can have.

use super::{
    BarRange, BusGroup, Cut, HitsChange, Insertion, MovedValue, NewVoice, NotesTo, ProcessorChange, Split, StripChange,
    TakeSound, Taken,
};
use crate::session::{
    AssetRef, Family, Header, Hit, Humanise, Key, Pattern, Processor, Reference, Section, StemPlan, StripSend, Swing,
    Take, VoiceSource, limits,
};
use lane_dsp::Settings;
use lane_units::{CheckKey, Name, PatternId, ProcessorId, ReferenceId, SectionId, StripId, StripName, TakeId, VoiceId};
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
    /// Voices as triggers that only feed keys. `assets` are added where they are new.
    AddTriggers {
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
        /// Where notes go for which somebody chose another lane than the proposed one.
        #[serde(default)]
        to: Vec<NotesTo>,
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
    /// How much later than written the hits of voices sound.
    SetVoiceLate {
        /// The voices.
        voices: Vec<VoiceId>,
        /// -100 (earlier) to +100 ms.
        late_ms: f64,
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
    /// A new return with processors, off until its fader is raised; rows feed it at full level before their faders, with
    /// their width and pan. On the mix bus, or on main where the mix bus feeds it; numbered where its name is taken.
    NewPath {
        /// What it is called.
        name: Name,
        /// What feeds it.
        feeders: Vec<StripId>,
        /// As they are given; they get ids of their own.
        processors: Vec<Processor>,
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
    /// A recording that the mix is held against; it never reaches main or a stem.
    AddReference {
        /// What it is called.
        name: Name,
        /// Its sound, added where it is new.
        asset: AssetRef,
    },
    /// Another name of a reference, other frames of it, or another way to go along; its sound stays.
    SetReference {
        /// As it is to be.
        reference: Reference,
    },
    /// A reference is no longer held against.
    RemoveReference {
        /// Which.
        reference: ReferenceId,
    },
    /// Lanes of another session or a template, with their chains, buses, returns and sends.
    InsertLanes {
        /// The other session, and which of its lanes.
        insertion: Box<Insertion>,
    },
    /// What is taken over from another state of the same session.
    TakeOver {
        /// What it is, in a few words.
        name: Name,
        /// The pieces.
        taken: Box<Taken>,
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
