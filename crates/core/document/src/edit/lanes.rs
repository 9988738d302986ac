//! Edits of voices: in, out, named, moved, sounding otherwise.

use super::find::{new_channel, strip_mut, voice_mut};
use super::intent::Intent;
use super::label::Words;
use super::parts::{listed, parts};
use super::{EditError, song, strips};
use crate::session::{
    AssetRef, Family, Hit, Part, Session, Shared, Song, Strip, Swing, Voice, VoiceSource, at_most, limits,
};
use lane_units::Names;
use lane_units::{AssetId, Name, PatternId, StripId, StripName, VoiceId};
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// Hits of a new voice in a pattern that exists.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct NewHits {
    /// The pattern that they lie in.
    pub pattern: PatternId,
    /// In order of time.
    pub hits: Vec<Hit>,
}

/// A voice to be made, with its channel.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct NewVoice {
    /// What it is called; numbered where the name is taken.
    pub name: Name,
    /// Its family.
    pub family: Family,
    /// What it plays.
    pub source: VoiceSource,
    /// Where its channel goes; the mix bus where not said.
    pub output: Option<StripId>,
    /// Gain in front of its channel's chain, in dB.
    #[serde(default)]
    pub trim_db: f64,
    /// Its hits.
    pub hits: Vec<NewHits>,
}

parts!(NewHits { pattern, hits });
parts!(NewVoice { name, family, source, output, trim_db, hits });
listed! {
    NewVoice: "voices", limits::VOICES;
    NewHits: "patterns of a new voice", limits::PATTERNS;
}

fn added(voices: &[NewVoice]) -> String {
    match voices {
        [one] => format!("Add {}", one.name),
        more => format!("Add {} voices", more.len()),
    }
}

/// The same change on each of some voices.
pub(super) fn each(s: &mut Session, voices: &[VoiceId], change: impl Fn(&mut Voice)) -> Result<(), EditError> {
    if voices.is_empty() {
        return Err(EditError::Nothing);
    }
    voices.iter().try_for_each(|id| voice_mut(s, *id).map(&change))
}

pub(super) fn add_assets<'a>(s: &mut Session, assets: impl IntoIterator<Item = &'a AssetRef>) {
    let mut known: HashSet<AssetId> = s.assets.iter().map(|a| a.id.clone()).collect();
    let new = assets.into_iter().filter(|a| known.insert(a.id.clone()));
    s.assets.extend(new.cloned().map(Shared::new));
}

/// The names of all voices.
pub(super) fn voice_names(s: &Session) -> Names {
    Names::of(s.voices.iter().map(|v| v.name.as_str()))
}

pub(super) fn add_voices(s: &mut Session, voices: &[NewVoice], assets: &[AssetRef]) -> Result<(), EditError> {
    at_most("voices", s.voices.len().saturating_add(voices.len()), limits::VOICES.max(s.voices.len()))?;
    add_assets(s, assets);
    let mut names = voice_names(s);
    for new in voices {
        let output = new.output.or(Some(s.mix_bus));
        let channel = new_channel(s, output);
        strip_mut(s, channel)?.trim_db = new.trim_db;
        let id = VoiceId(s.take_id());
        let name = names.take(&new.name);
        s.voices.push(Voice::new(id, name, new.family, new.source.clone(), channel).into());
        for part in &new.hits {
            song::set_hits(s, part.pattern, id, part.hits.clone())?;
        }
        make_room_for_recording(s, &new.source);
    }
    Ok(())
}

/// Voices that are never heard and feed nothing but keys.
pub(super) fn add_triggers(s: &mut Session, voices: &[NewVoice], assets: &[AssetRef]) -> Result<(), EditError> {
    let before = s.voices.len();
    add_voices(s, voices, assets)?;
    let made: Vec<VoiceId> = s.voices[before..].iter().map(|v| v.id).collect();
    strips::set_triggers(s, &made, true)
}

/// Lengthens the song so that a recording is not cut off.
fn make_room_for_recording(s: &mut Session, source: &VoiceSource) {
    let VoiceSource::Recording { asset, start_frame } = source else { return };
    let Some(frames) = s.asset(asset).map(|a| f64::from(a.frames)) else { return };
    let song = Song::new(s);
    let end_ticks = (f64::from(*start_frame) + frames) / song.frames_per_tick();
    let bars = libm::ceil(end_ticks / f64::from(song.bar_ticks()) - 1e-6) as u32;
    if let Some(last) = s.sections.last_mut()
        && bars > song.bars()
    {
        last.bars = last.bars.saturating_add(bars - song.bars());
    }
}

pub(super) fn remove_voices(s: &mut Session, voices: &[VoiceId]) -> Result<(), EditError> {
    for id in voices {
        voice_mut(s, *id)?;
    }
    // Who followed one of them plays on by itself.
    let followers: Vec<VoiceId> =
        s.voices.iter().filter(|v| v.follows.is_some_and(|f| voices.contains(&f))).map(|v| v.id).collect();
    for follower in followers {
        follow(s, follower, None)?;
    }
    let gone: HashSet<VoiceId> = voices.iter().copied().collect();
    for kept in s.takes.iter_mut().filter(|k| k.groups.iter().any(|g| gone.contains(&g.voice))) {
        kept.groups.retain(|g| !gone.contains(&g.voice));
    }
    s.voices.retain(|v| !gone.contains(&v.id));
    s.parts.retain(|p| !gone.contains(&p.voice));
    strips::drop_empty_channels(s);
    Ok(())
}

pub(super) fn rename(s: &mut Session, voice: VoiceId, name: &Name) -> Result<(), EditError> {
    voice_mut(s, voice)?.name = name.clone();
    Ok(())
}

pub(super) fn move_voice(s: &mut Session, voice: VoiceId, to: u32) -> Result<(), EditError> {
    voice_mut(s, voice)?;
    super::song::move_within(&mut s.voices, |v| v.id == voice, to);
    Ok(())
}

pub(super) fn set_source(
    s: &mut Session,
    voice: VoiceId,
    source: &VoiceSource,
    assets: &[AssetRef],
) -> Result<(), EditError> {
    voice_mut(s, voice)?;
    add_assets(s, assets);
    voice_mut(s, voice)?.source = source.clone();
    make_room_for_recording(s, source);
    Ok(())
}

/// Plays the hits of a leader, or, set free, goes on with a copy of them.
pub(super) fn follow(s: &mut Session, voice: VoiceId, leader: Option<VoiceId>) -> Result<(), EditError> {
    let old = voice_mut(s, voice)?.follows;
    if old == leader {
        return Ok(());
    }
    s.parts.retain(|p| p.voice != voice);
    if let (Some(old), None) = (old, leader) {
        copy_parts(s, old, voice);
    }
    voice_mut(s, voice)?.follows = leader;
    Ok(())
}

/// Gives a voice what another one plays, in all patterns.
fn copy_parts(s: &mut Session, from: VoiceId, to: VoiceId) {
    let of = Shared::values(&s.parts).filter(|p| p.voice == from);
    let copies: Vec<_> = of.map(|p| Shared::new(Part { voice: to, ..p.clone() })).collect();
    s.parts.extend(copies);
}

/// A copy of a lane below it, on a channel of its own.
pub(super) fn duplicate(
    s: &mut Session,
    voice: VoiceId,
    with_chain: bool,
    follows: bool,
) -> Result<VoiceId, EditError> {
    let old = voice_mut(s, voice)?.clone();
    let channel = strips::copy_of_channel(s, old.channel)?;
    let own = strip_mut(s, channel)?;
    own.solo = false;
    if !with_chain {
        let (kind, output) = (own.kind, own.output);
        *own = Strip::new(channel, kind, StripName::default(), output);
    }
    let id = VoiceId(s.take_id());
    let name = voice_names(s).take(&Name::cleaned(&format!("{} copy", old.name), "Copy"));
    let leader = old.follows.unwrap_or(voice);
    let copy = Voice { id, name, channel, follows: follows.then_some(leader), ..old };
    let at = s.voices.iter().position(|v| v.id == voice).map_or(s.voices.len(), |n| n + 1);
    s.voices.insert(at, copy.into());
    if !follows {
        copy_parts(s, leader, id);
    }
    Ok(id)
}

/// A trigger that plays what a voice plays.
pub(super) fn new_trigger(s: &mut Session, like: VoiceId, follows: bool) -> Result<(), EditError> {
    let name = Name::cleaned(&format!("{} trigger", voice_mut(s, like)?.name), "Trigger");
    let made = duplicate(s, like, false, follows)?;
    name_free(s, made, &name)?;
    strips::set_triggers(s, &[made], true)
}

/// Calls a voice by a name that no other has.
pub(super) fn name_free(s: &mut Session, voice: VoiceId, name: &Name) -> Result<(), EditError> {
    let name = voice_names(s).take(name);
    rename(s, voice, &name)
}

/// Voices, each on a channel of its own. `assets` are added where they are new.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct AddVoices {
    /// In the order of the board.
    pub voices: Vec<NewVoice>,
    /// Audio that they name.
    pub assets: Vec<AssetRef>,
}
parts!(AddVoices { voices, assets });

impl Intent for AddVoices {
    fn label(&self, _: &Words) -> String {
        added(&self.voices)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        add_voices(s, &self.voices, &self.assets)
    }
}

/// Voices as triggers that only feed keys. `assets` are added where they are new.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct AddTriggers {
    /// In the order of the board.
    pub voices: Vec<NewVoice>,
    /// Audio that they name.
    pub assets: Vec<AssetRef>,
}
parts!(AddTriggers { voices, assets });

impl Intent for AddTriggers {
    fn label(&self, _: &Words) -> String {
        added(&self.voices)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        add_triggers(s, &self.voices, &self.assets)
    }
}

/// Voices with their hits, and the channels that this leaves empty.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct RemoveVoices {
    /// Those to go.
    pub voices: Vec<VoiceId>,
}
parts!(RemoveVoices { voices });

impl Intent for RemoveVoices {
    fn label(&self, words: &Words) -> String {
        format!("Remove {}", words.voices(&self.voices))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        remove_voices(s, &self.voices)
    }
}

/// A voice under another name.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct RenameVoice {
    /// The voice.
    pub voice: VoiceId,
    /// Its new name.
    pub name: Name,
}
parts!(RenameVoice { voice, name });

impl Intent for RenameVoice {
    fn label(&self, words: &Words) -> String {
        format!("Rename {} to {}", words.voice(self.voice), self.name)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        rename(s, self.voice, &self.name)
    }
}

/// A voice in another family.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetFamily {
    /// The voice.
    pub voice: VoiceId,
    /// Its new family.
    pub family: Family,
}
parts!(SetFamily { voice, family });

impl Intent for SetFamily {
    fn label(&self, words: &Words) -> String {
        format!("Family of {}", words.voice(self.voice))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        voice_mut(s, self.voice).map(|v| v.family = self.family)
    }
}

/// Moves a voice to a row of the board, counted from 0.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct MoveVoice {
    /// The voice.
    pub voice: VoiceId,
    /// The row, from 0.
    pub to: u32,
}
parts!(MoveVoice { voice, to });

impl Intent for MoveVoice {
    fn label(&self, words: &Words) -> String {
        format!("Move {}", words.voice(self.voice))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        move_voice(s, self.voice, self.to)
    }
}

/// What a voice plays.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetSource {
    /// The voice.
    pub voice: VoiceId,
    /// What it is to play.
    pub source: VoiceSource,
    /// Audio that this names.
    pub assets: Vec<AssetRef>,
}
parts!(SetSource { voice, source, assets });

impl Intent for SetSource {
    fn label(&self, words: &Words) -> String {
        format!("Sound of {}", words.voice(self.voice))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set_source(s, self.voice, &self.source, &self.assets)
    }
}

/// A choke set for voices, or none.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetChoke {
    /// The voices.
    pub voices: Vec<VoiceId>,
    /// The set's number.
    pub set: Option<u8>,
}
parts!(SetChoke { voices, set });

impl Intent for SetChoke {
    fn label(&self, words: &Words) -> String {
        format!("Choke of {}", words.voices(&self.voices))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        each(s, &self.voices, |v| v.choke_set = self.set)
    }
}

/// A swing of their own for voices, or the session's.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetVoiceSwing {
    /// The voices.
    pub voices: Vec<VoiceId>,
    /// Their swing.
    pub swing: Option<Swing>,
}
parts!(SetVoiceSwing { voices, swing });

impl Intent for SetVoiceSwing {
    fn label(&self, words: &Words) -> String {
        format!("Swing of {}", words.voices(&self.voices))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        each(s, &self.voices, |v| v.swing = self.swing)
    }
}

/// How much later than written the hits of voices sound.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetVoiceLate {
    /// The voices.
    pub voices: Vec<VoiceId>,
    /// -100 (earlier) to +100 ms.
    pub late_ms: f64,
}
parts!(SetVoiceLate { voices, late_ms });

impl Intent for SetVoiceLate {
    fn label(&self, words: &Words) -> String {
        format!("Timing of {}", words.voices(&self.voices))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        each(s, &self.voices, |v| v.late_ms = self.late_ms)
    }
}

/// The hits of another voice instead of its own; set free, it goes on with a copy of them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Follow {
    /// The voice that is to follow, or to be free.
    pub voice: VoiceId,
    /// Whom it follows.
    pub leader: Option<VoiceId>,
}
parts!(Follow { voice, leader });

impl Intent for Follow {
    fn label(&self, words: &Words) -> String {
        match self.leader {
            Some(leader) => format!("{} follows {}", words.voice(self.voice), words.voice(leader)),
            None => format!("Set {} free", words.voice(self.voice)),
        }
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        follow(s, self.voice, self.leader)
    }
}

/// A copy of a lane on a channel of its own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct DuplicateVoice {
    /// That to copy.
    pub voice: VoiceId,
    /// Whether the copy has the settings of the channel too.
    pub with_chain: bool,
    /// Whether it follows the first lane's pattern.
    pub follows: bool,
}
parts!(DuplicateVoice { voice, with_chain, follows });

impl Intent for DuplicateVoice {
    fn label(&self, words: &Words) -> String {
        format!("Copy {}", words.voice(self.voice))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        duplicate(s, self.voice, self.with_chain, self.follows).map(|_| ())
    }
}

/// A trigger that plays what a lane plays: by following it, or with a copy of its hits.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct NewTrigger {
    /// The voice that it plays like.
    pub like: VoiceId,
    /// Whether it follows, rather than having a copy.
    pub follows: bool,
}
parts!(NewTrigger { like, follows });

impl Intent for NewTrigger {
    fn label(&self, words: &Words) -> String {
        format!("New trigger like {}", words.voice(self.like))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        new_trigger(s, self.like, self.follows)
    }
}
