//! Edits of voices: in, out, named, moved, sounding otherwise.

use super::{EditError, TakeSound, song, strips};
use crate::midi::{self, Take, TakeLane};
use crate::session::{AssetRef, Family, Hit, Hold, Layer, Session, Song, Strip, StripKind, Voice, VoiceSource};
use crate::units::{PatternId, StripId, VoiceId};
use serde::{Deserialize, Serialize};

/// Hits of a new voice in a pattern that exists.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct NewHits {
    pub pattern: PatternId,
    pub hits: Vec<Hit>,
}

/// A voice to be made, with its channel.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct NewVoice {
    pub name: String,
    pub family: Family,
    pub source: VoiceSource,
    /// Where its channel goes; the mix bus where not said.
    pub output: Option<StripId>,
    pub hits: Vec<NewHits>,
}

pub(super) fn voice_mut(s: &mut Session, id: VoiceId) -> Result<&mut Voice, EditError> {
    s.voices.iter_mut().find(|v| v.id == id).ok_or(EditError::Gone { what: format!("voice {}", id.0) })
}

/// A channel at rest on an output.
pub(super) fn new_channel(s: &mut Session, output: Option<StripId>) -> StripId {
    let id = StripId(s.take_id());
    // Channels stand before buses and main, in the order they were made.
    let at = s.strips.iter().rposition(|x| x.kind == StripKind::Channel).map_or(0, |i| i + 1);
    s.strips.insert(at, Strip::new(id, StripKind::Channel, "", output));
    id
}

fn add_assets(s: &mut Session, assets: &[AssetRef]) {
    for asset in assets {
        if s.asset(&asset.id).is_none() {
            s.assets.push(asset.clone());
        }
    }
}

/// The name, with a number behind it where a voice has it already.
fn free_name(s: &Session, name: &str) -> String {
    let taken = |n: &str| s.voices.iter().any(|v| v.name == n);
    if !taken(name) {
        return name.to_owned();
    }
    (2..).map(|n| format!("{name} {n}")).find(|n| !taken(n)).expect("some number is free")
}

pub(super) fn add_voices(s: &mut Session, voices: &[NewVoice], assets: &[AssetRef]) -> Result<(), EditError> {
    add_assets(s, assets);
    for new in voices {
        let output = new.output.or_else(|| s.default_output());
        let channel = new_channel(s, output);
        let id = VoiceId(s.take_id());
        let name = free_name(s, new.name.trim());
        s.voices.push(Voice { id, name, family: new.family, source: new.source.clone(), channel });
        for part in &new.hits {
            song::set_hits(s, part.pattern, id, part.hits.clone())?;
        }
        make_room_for_recording(s, &new.source);
    }
    Ok(())
}

/// Lengthens the song so that a recording is not cut off.
fn make_room_for_recording(s: &mut Session, source: &VoiceSource) {
    let VoiceSource::Recording { asset, start_ticks } = source else { return };
    let Some(frames) = s.asset(asset).map(|a| f64::from(a.frames)) else { return };
    let song = Song::new(s);
    let end_ticks = f64::from(*start_ticks) + frames / song.frames_per_tick();
    let bars = libm::ceil(end_ticks / f64::from(song.bar_ticks()) - 1e-6) as u32;
    if let Some(last) = s.sections.last_mut()
        && bars > song.bars()
    {
        last.bars += bars - song.bars();
    }
}

pub(super) fn remove_voices(s: &mut Session, voices: &[VoiceId]) -> Result<(), EditError> {
    for id in voices {
        voice_mut(s, *id)?;
    }
    s.voices.retain(|v| !voices.contains(&v.id));
    s.parts.retain(|p| !voices.contains(&p.voice));
    strips::drop_empty_channels(s);
    Ok(())
}

pub(super) fn rename(s: &mut Session, voice: VoiceId, name: &str) -> Result<(), EditError> {
    voice_mut(s, voice)?.name = name.trim().to_owned();
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

pub(super) fn add_take(s: &mut Session, take: &Take, sounds: &[TakeSound]) -> Result<(), EditError> {
    if take.notes.is_empty() {
        return Err(EditError::EmptyTake);
    }
    let untouched = s.parts.is_empty() && !s.voices.iter().any(|v| matches!(v.source, VoiceSource::Recording { .. }));
    if untouched {
        s.header.tempo_bpm = take.tempo_bpm.unwrap_or(s.header.tempo_bpm);
        s.header.metre = take.metre.unwrap_or(s.header.metre);
    }
    let bar = s.header.metre.bar_ticks();
    let end = take.notes.iter().map(|n| n.at_ticks).max().unwrap_or(0);
    let bars = end / bar + 1;
    let pattern = if untouched {
        let pattern = s.patterns[0].id;
        s.patterns[0].bars = bars;
        s.sections = vec![crate::session::Section { bars, pattern, ..s.sections[0].clone() }];
        pattern
    } else {
        song::add_pattern(s, &take.name, bars, None)?;
        let pattern = s.patterns.last().map(|p| p.id).ok_or(EditError::Nothing)?;
        let at = s.sections.len() as u32;
        song::add_section(s, &take.name, pattern, bars, at)?;
        pattern
    };
    for lane in midi::lanes(take) {
        let voice = match s.voices.iter().find(|v| v.name.eq_ignore_ascii_case(&lane.name)) {
            Some(v) => v.id,
            None => add_lane(s, &lane, sounds)?,
        };
        song::set_hits(s, pattern, voice, lane.hits)?;
    }
    Ok(())
}

fn add_lane(s: &mut Session, lane: &TakeLane, sounds: &[TakeSound]) -> Result<VoiceId, EditError> {
    let sound = sounds.iter().find(|x| x.lane == lane.name).map(|x| &x.asset);
    let source = sound.map_or(VoiceSource::Empty, |asset| VoiceSource::OneShot {
        layers: vec![Layer { asset: asset.id.clone(), gain_db: 0.0, tune_ct: 0.0 }],
        hold: if lane.melodic { Hold::Gate { release_ms: 60.0 } } else { Hold::Whole },
    });
    let assets: Vec<AssetRef> = sound.cloned().into_iter().collect();
    let new = NewVoice { name: lane.name.clone(), family: lane.family, source, output: None, hits: vec![] };
    add_voices(s, &[new], &assets)?;
    s.voices.last().map(|v| v.id).ok_or(EditError::Nothing)
}
