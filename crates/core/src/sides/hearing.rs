//! How a side sounds over the loop: what makes switching fair, and what is drawn of it.

use super::recording::{Recording, Way};
use crate::analysis::{BandMeter, Bands, LoudnessMeter, LoudnessTrack};
use crate::engine::{Engine, LoopRange, Metering, Playhead};
use crate::session::{AssetBank, Audio, Session};
use crate::units::{Frame, gain_to_db};
use serde::Serialize;
use std::sync::Arc;

/// Frames computed in one piece.
const BLOCK: usize = 1024;
/// What is heard goes round for at least so long, since loudness needs time.
const SHORTEST_S: u64 = 3;
/// What of the loop's end is played before it is measured, at most.
const RING_S: u64 = 6;
/// Levels below this are silence.
const SILENT_DB: f64 = -140.0;
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

enum Source {
    Session(Box<Engine>),
    /// A recording, and where the song stands.
    Recording(Box<Recording>, Playhead),
}

/// A side that is heard over the loop, on its way.
pub struct Hearing {
    source: Source,
    rate: u32,
    /// Frames before anything is measured, those of one round, and all that are measured.
    before: u64,
    round: u64,
    frames: u64,
    done: u64,
    loudness: LoudnessMeter,
    track: LoudnessTrack,
    bands: BandMeter,
    squares: f64,
    block: Vec<Frame>,
}

impl Hearing {
    /// A state of the session over the loop, which rings as it will.
    ///
    /// * `range` – the loop, not empty.
    pub fn session(session: &Session, bank: &AssetBank, range: LoopRange) -> Self {
        let rate = session.header.sample_rate;
        let mut engine = Engine::new(session, bank, BLOCK, Metering::Off);
        let round = (range.to - range.from).max(1);
        let ring = round.min(RING_S * u64::from(rate));
        engine.play_into(range, ring);
        let before = ring + engine.latency();
        Hearing::new(Source::Session(Box::new(engine)), before, round, rate)
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
        Hearing::new(Source::Recording(Box::new(recording), head), 0, round.max(1), sample_rate)
    }

    fn new(source: Source, before: u64, round: u64, rate: u32) -> Self {
        Hearing {
            rate,
            source,
            before,
            round,
            frames: round * (SHORTEST_S * u64::from(rate)).div_ceil(round).max(1),
            done: 0,
            loudness: LoudnessMeter::new(rate),
            track: LoudnessTrack::new(rate),
            bands: BandMeter::new(rate),
            squares: 0.0,
            block: vec![[0.0; 2]; BLOCK],
        }
    }

    /// Goes on for about so many frames; gives how far it is, 1 at its end.
    pub fn step(&mut self, frames: u64) -> f64 {
        let whole = self.before + self.frames;
        let until = (self.done + frames).min(whole);
        while self.done < until {
            // Pieces end where measuring begins, and where the first round ends.
            let ends = [self.before, self.before + self.round, until];
            let next = ends.into_iter().find(|end| *end > self.done).unwrap_or(until).min(until);
            let count = (next - self.done).min(BLOCK as u64) as usize;
            let block = &mut self.block[..count];
            match &mut self.source {
                Source::Session(engine) => engine.process(block),
                Source::Recording(recording, head) => {
                    recording.process(*head, block);
                    head.pass(count);
                }
            }
            if self.done >= self.before {
                self.loudness.take(block);
                self.bands.take(block);
                self.squares += block.iter().map(|[l, r]| l * l + r * r).sum::<f64>();
                if self.done < self.before + self.round {
                    self.track.take(block);
                }
            }
            self.done += count as u64;
        }
        self.done as f64 / whole as f64
    }

    /// What was found.
    pub fn read(&self) -> SideFigures {
        let loudness = self.loudness.read();
        let heard = |db: f64| (db > SILENT_DB).then_some(db);
        let measured = self.done.saturating_sub(self.before).max(1);
        let mean = heard(gain_to_db(libm::sqrt(self.squares / (2.0 * measured as f64))));
        let peak = heard(gain_to_db(loudness.sample_peak));
        SideFigures {
            lufs: heard(loudness.integrated_lufs),
            short_term_lufs: heard(self.track.highest_short_term_lufs()),
            true_peak_dbtp: heard(gain_to_db(loudness.true_peak)),
            crest_db: peak.zip(mean).map(|(peak, mean)| peak - mean),
            octaves: self.bands.octaves(),
            seconds: self.round as f64 / f64::from(self.rate),
            momentary_lufs: self.track.momentary_lufs(VALUES).into_iter().map(heard).collect(),
        }
    }
}
