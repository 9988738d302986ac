//! How a side sounds over the loop: what makes switching fair, and what is drawn of it.

use crate::recording::{Recording, Way};
use crate::run::{BLOCK, Listener, Run, Source, Span, crest_db, heard_db, rounds, squares};
use lane_analysis::{BandMeter, Bands, LoudnessMeter, LoudnessTrack};
use lane_document::session::{AssetBank, Audio, Session};
use lane_engine::{Engine, LoopRange, Metering, Playhead};
use lane_units::{Frame, gain_to_db};
use serde::Serialize;
use std::sync::Arc;

/// Values of loudness over time at most.
const VALUES: usize = 240;

/// How one side sounds over the loop, before anything is matched; nothing where it is silent.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct SideFigures {
    /// Integrated loudness after ITU-R BS.1770-5.
    pub lufs: Option<f64>,
    /// The highest short-term loudness, in LUFS.
    pub short_term_lufs: Option<f64>,
    /// In dBTP.
    pub true_peak_dbtp: Option<f64>,
    /// Sample peak over the mean, in dB.
    pub crest_db: Option<f64>,
    /// Mean power in octaves.
    pub octaves: Bands,
    /// How long what was heard is, in seconds.
    pub seconds: f64,
    /// Momentary loudness in LUFS, evenly over what was heard.
    pub momentary_lufs: Vec<Option<f64>>,
}

/// By how much sides have to be moved in dB to be as loud as the softest, so that nothing comes nearer to its ceiling; a silent
/// one stays, and is not matched to.
pub fn offsets_db(lufs: &[Option<f64>]) -> Vec<f64> {
    let softest = lufs.iter().flatten().copied().fold(f64::INFINITY, f64::min);
    lufs.iter().map(|lufs| lufs.map_or(0.0, |lufs| softest - lufs)).collect()
}

/// What is heard of a side.
pub struct SideMeters {
    /// Frames before anything is measured, those of one round, and frames that were measured.
    before: u64,
    round: u64,
    measured: u64,
    rate: u32,
    loudness: LoudnessMeter,
    track: LoudnessTrack,
    bands: BandMeter,
    squares: f64,
}

/// A side that is heard over the loop, on its way.
pub type Hearing = Run<SideMeters>;

impl Hearing {
    /// A state of the session over the loop, which rings as it will.
    ///
    /// * `range` – the loop, not empty.
    pub fn session(session: &Session, bank: &AssetBank, range: LoopRange) -> Self {
        let rate = session.header.sample_rate;
        let engine = Engine::new(session, bank, BLOCK, Metering::Off);
        let span = Span::new(range, rate);
        let before = span.ring + engine.latency();
        SideMeters::of(Source::engine(engine, span), before, span.round, rate)
    }

    /// A recording: all that goes round of it, or what of it falls on the loop.
    ///
    /// * `range` – the loop, not empty.
    pub fn recording(audio: Arc<Audio>, way: Way, sample_rate: u32, range: LoopRange) -> Self {
        let own = way.to.min(audio.frames() as u64).saturating_sub(way.from);
        let round = if way.follows { range.to - range.from } else { own };
        let head = Playhead { playing: true, position: range.from, looping: Some(range) };
        let mut recording = Recording::new(audio, way, sample_rate);
        recording.begin_plainly(head);
        SideMeters::of(Source::Recording(Box::new(recording), head), 0, round.max(1), sample_rate)
    }

    /// What was found.
    pub fn read(&self) -> SideFigures {
        let meters = &self.heard;
        let loudness = meters.loudness.read();
        SideFigures {
            lufs: heard_db(loudness.integrated_lufs),
            short_term_lufs: heard_db(meters.track.highest_short_term_lufs()),
            true_peak_dbtp: heard_db(gain_to_db(loudness.true_peak)),
            crest_db: crest_db(loudness.sample_peak, meters.squares, meters.measured),
            octaves: meters.bands.octaves(),
            seconds: meters.round as f64 / f64::from(meters.rate),
            momentary_lufs: meters.track.momentary_lufs(VALUES).into_iter().map(heard_db).collect(),
        }
    }
}

impl SideMeters {
    fn of(source: Source, before: u64, round: u64, rate: u32) -> Hearing {
        let meters = SideMeters {
            before,
            round,
            measured: 0,
            rate,
            loudness: LoudnessMeter::new(rate),
            track: LoudnessTrack::new(rate),
            bands: BandMeter::new(rate),
            squares: 0.0,
        };
        let ends = [before, before + round];
        Run::of(source, ends, before + rounds(round, u64::from(rate)), meters)
    }
}

impl Listener for SideMeters {
    const STATIONS: bool = false;

    fn out(&mut self, at: u64, frames: &[Frame]) {
        if at < self.before {
            return;
        }
        self.loudness.take(frames);
        self.bands.take(frames);
        self.squares += squares(frames);
        self.measured += frames.len() as u64;
        if at < self.before + self.round {
            self.track.take(frames);
        }
    }
}
