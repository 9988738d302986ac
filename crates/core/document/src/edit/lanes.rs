//! Edits of voices: in, out, named, moved, sounding otherwise.

use super::find::{new_channel, strip_mut, voice_mut};
use super::{EditError, song, strips};
use crate::session::{
    AssetRef, Family, Hit, Hold, Layer, Part, Session, Shared, Song, Strip, Voice, VoiceSource, at_most, in_range,
    limits,
};
use lane_units::Names;
use lane_units::{AssetId, Name, PatternId, StripId, StripName, TICKS_PER_QUARTER, VoiceId};
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

/// A piece of a loop, cut out as a hit of its own.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Piece {
    /// The frame of the loop at which it begins.
    pub start_frame: u32,
    /// The first frame that is not part of it.
    pub end_frame: u32,
    /// Index of the voice it goes to.
    pub voice: u32,
}

/// A voice for pieces of a loop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct PieceVoice {
    /// What it is called.
    pub name: Name,
    /// Its family.
    pub family: Family,
}

/// How a loop is cut.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Cut {
    /// The loop: a recording, or a one-shot whose first layer it is.
    pub voice: VoiceId,
    /// The pattern that gets the hits.
    pub pattern: PatternId,
    /// The tempo at which the loop was played.
    pub loop_bpm: f64,
    /// The steps on which pieces are written, in ticks; what is left is kept as a shift.
    pub grid_ticks: u32,
    /// In order of time.
    pub pieces: Vec<Piece>,
    /// Which pieces point at.
    pub voices: Vec<PieceVoice>,
}

/// Pieces of a loop as layers of new voices, hit where they were; the loop itself is muted.
pub(super) fn cut(s: &mut Session, cut: &Cut) -> Result<(), EditError> {
    let whole = voice_mut(s, cut.voice)?.clone();
    let (asset, start) = match &whole.source {
        VoiceSource::Recording { asset, start_frame } => (asset.clone(), *start_frame),
        VoiceSource::OneShot { layers, .. } if !layers.is_empty() => (layers[0].asset.clone(), 0),
        _ => return Err(EditError::WrongKind { name: whole.name.into(), wanted: "loop" }),
    };
    if cut.pieces.is_empty() || cut.voices.is_empty() {
        return Err(EditError::Nothing);
    }
    at_most("voices of a cut", cut.voices.len(), limits::VOICES)?;
    at_most("pieces of a cut", cut.pieces.len(), limits::PIECES)?;
    in_range("the tempo of the loop", cut.loop_bpm, limits::TEMPO_BPM, "bpm")?;
    let per_tick = f64::from(s.header.sample_rate) * 60.0 / (cut.loop_bpm * f64::from(TICKS_PER_QUARTER));
    let offset = libm::round(f64::from(start) / Song::new(s).frames_per_tick()) as u32;
    let tick = |frame: u32| offset.saturating_add(libm::round(f64::from(frame) / per_tick) as u32);
    let last = cut.pieces.iter().map(|p| tick(p.end_frame)).max().unwrap_or(0);
    let bar = s.header.metre.bar_ticks();
    // A loop is seldom cut to the tick, so what hangs over by less than a sixteenth takes no bar more.
    let bars = last.saturating_sub(TICKS_PER_QUARTER / 4).div_ceil(bar).clamp(1, limits::SONG_TICKS.div_ceil(bar));
    song::make_room(s, cut.pattern, bars)?;
    for (index, new) in cut.voices.iter().enumerate() {
        let pieces: Vec<&Piece> = cut.pieces.iter().filter(|p| p.voice as usize == index).collect();
        if pieces.is_empty() {
            continue;
        }
        let cut_out = |p: &&Piece| Layer {
            start_frame: p.start_frame,
            end_frame: Some(p.end_frame),
            ..Layer::new(asset.clone())
        };
        let layers: Vec<Layer> = pieces.iter().map(cut_out).collect();
        let grid = cut.grid_ticks.max(1);
        let hit = |(layer, p): (usize, &&Piece)| {
            let (at, end) = (tick(p.start_frame), tick(p.end_frame));
            let written = (at.saturating_add(grid / 2) / grid * grid).min(bars * bar - 1);
            let shift_ticks = (i64::from(at) - i64::from(written)).clamp(-480, 480) as i32;
            let length = end.saturating_sub(at).clamp(1, limits::SONG_TICKS);
            Hit { shift_ticks, layer: Some(layer as u8), ..Hit::new(written, length, 127, 0) }
        };
        let hits = pieces.iter().enumerate().map(hit).collect();
        let source = VoiceSource::OneShot { layers, hold: Hold::Whole };
        let output = s.strip(whole.channel).and_then(|c| c.output);
        let hits = vec![NewHits { pattern: cut.pattern, hits }];
        add_voices(
            s,
            &[NewVoice { trim_db: 0.0, name: new.name.clone(), family: new.family, source, output, hits }],
            &[],
        )?;
    }
    if s.voices_on(whole.channel).count() == 1 {
        strips::set(s, &[whole.channel], &strips::StripChange::Mute(true))?;
    } else {
        voice_mut(s, whole.id)?.source = VoiceSource::Empty;
    }
    Ok(())
}
