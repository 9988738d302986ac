//! A loop as pieces on voices of their own.

use super::find::{strip_mut, voice_mut};
use super::intent::Intent;
use super::label::Words;
use super::lanes::{NewHits, NewVoice, add_voices};
use super::parts::{listed, parts, plain};
use super::{EditError, song, strips};
use crate::session::{Family, Hit, Hold, Layer, Session, Song, VoiceSource, at_most, in_range, limits};
use lane_units::{Name, PatternId, TICKS_PER_QUARTER, VoiceId};
use serde::{Deserialize, Serialize};

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

plain! { Piece, PieceVoice }
listed! {
    Piece: "pieces of a loop", limits::PIECES;
    PieceVoice: "voices of a cut", limits::VOICES;
}
parts!(Cut { voice, pattern, loop_bpm, grid_ticks, pieces, voices });

/// Pieces of a loop as layers of new voices, hit where they were and at the loop's level; the loop itself is muted.
pub(super) fn cut(s: &mut Session, cut: &Cut) -> Result<(), EditError> {
    let whole = voice_mut(s, cut.voice)?.clone();
    let (played, start) = match &whole.source {
        VoiceSource::Recording { asset, start_frame } => (Layer::new(asset.clone()), *start_frame),
        VoiceSource::OneShot { layers, .. } if !layers.is_empty() => (layers[0].clone(), 0),
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
    let channel = strip_mut(s, whole.channel)?.clone();
    for (index, new) in cut.voices.iter().enumerate() {
        let pieces: Vec<&Piece> = cut.pieces.iter().filter(|p| p.voice as usize == index).collect();
        if pieces.is_empty() {
            continue;
        }
        let cut_out = |p: &&Piece| Layer {
            start_frame: p.start_frame,
            end_frame: Some(p.end_frame),
            gain_db: played.gain_db,
            tune_ct: played.tune_ct,
            ..Layer::new(played.asset.clone())
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
        let hits = vec![NewHits { pattern: cut.pattern, hits }];
        add_voices(
            s,
            &[NewVoice {
                trim_db: channel.trim_db,
                name: new.name.clone(),
                family: new.family,
                source,
                output: channel.output,
                hits,
            }],
            &[],
        )?;
        // As loud and in the same place as the loop was.
        let made = s.voices.last().map(|v| v.channel).ok_or(EditError::Nothing)?;
        let own = strip_mut(s, made)?;
        (own.polarity, own.fader_db) = (channel.polarity, channel.fader_db);
        (own.pan_percent, own.width_percent) = (channel.pan_percent, channel.width_percent);
    }
    if s.voices_on(whole.channel).count() == 1 {
        strips::set(s, &[whole.channel], &strips::StripChange::Mute(true))?;
    } else {
        voice_mut(s, whole.id)?.source = VoiceSource::Empty;
    }
    Ok(())
}

/// A loop as pieces on voices of their own; the loop itself is muted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct CutLoop {
    /// Pieces, voices and what remains.
    pub cut: Cut,
}
parts!(CutLoop { cut });

impl Intent for CutLoop {
    fn label(&self, words: &Words) -> String {
        format!("Cut {}", words.voice(self.cut.voice))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        cut(s, &self.cut)
    }
}
