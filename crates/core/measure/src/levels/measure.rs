//! What every station carries over the loop, as a run hears it.

use crate::run::{BLOCK, Listener, Run, Source, Span, heard_db, rms_dbfs, squares};
use lane_analysis::{BandMeter, Bands, LoudnessMeter};
use lane_document::session::{AssetBank, Session};
use lane_engine::{Bypass, Engine, LoopRange, Metering, Station};
use lane_units::{Frame, StripId, gain_to_db};
use serde::Serialize;
use std::collections::HashMap;

/// What one station of a strip carries over the loop.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct StationLevels {
    /// Where it was heard.
    pub station: Station,
    /// In dBFS; nothing where it is silent, as with the rest.
    pub sample_peak_dbfs: Option<f64>,
    /// Between samples as well, in dBTP.
    pub true_peak_dbtp: Option<f64>,
    /// Of both sides over the whole loop, in dBFS: what sums are made of.
    pub rms_dbfs: Option<f64>,
    /// The same only where it sounds, gated as loudness is: blocks of 0.4 s, those under -70 dBFS and those 10 dB under the
    /// rest left out.
    pub sounding_dbfs: Option<f64>,
    /// Integrated loudness after ITU-R BS.1770-5.
    pub lufs: Option<f64>,
}

/// What one strip carries.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct StripLevels {
    /// The strip.
    pub strip: StripId,
    /// In the order of the signal.
    pub stations: Vec<StationLevels>,
    /// Spectrum after trim.
    pub spectrum: Bands,
}

impl StripLevels {
    /// What was heard at one of its stations.
    pub fn at(&self, station: Station) -> Option<&StationLevels> {
        self.stations.iter().find(|s| s.station == station)
    }
}

/// What a measuring run found.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Measured {
    /// In the order in which they are computed; main is the last.
    pub strips: Vec<StripLevels>,
    /// Frames that were measured.
    pub frames: u64,
}

impl Measured {
    /// What was heard of a strip.
    pub fn strip(&self, id: StripId) -> Option<&StripLevels> {
        self.strips.iter().find(|s| s.strip == id)
    }

    /// What was heard of a strip at one of its stations.
    pub fn at(&self, id: StripId, station: Station) -> Option<&StationLevels> {
        self.strip(id)?.at(station)
    }
}

struct StationMeter {
    station: Station,
    loudness: LoudnessMeter,
    squares: f64,
    sounding: Sounding,
}

impl StationMeter {
    fn new(station: Station, sample_rate: u32) -> Self {
        let (loudness, sounding) = (LoudnessMeter::new(sample_rate), Sounding::new(sample_rate));
        StationMeter { station, loudness, squares: 0.0, sounding }
    }

    fn take(&mut self, frames: &[Frame]) {
        self.loudness.take(frames);
        self.squares += squares(frames);
        self.sounding.take(frames);
    }

    fn read(&self, frames: u64) -> StationLevels {
        let loudness = self.loudness.read();
        StationLevels {
            station: self.station,
            sample_peak_dbfs: heard_db(gain_to_db(loudness.sample_peak)),
            true_peak_dbtp: heard_db(gain_to_db(loudness.true_peak)),
            rms_dbfs: rms_dbfs(self.squares, frames),
            sounding_dbfs: heard_db(10.0 * libm::log10(self.sounding.mean())),
            lufs: heard_db(loudness.integrated_lufs),
        }
    }
}

/// The power of a sound only while it sounds, with the gates of ITU-R BS.1770-5 on what is not weighted.
struct Sounding {
    /// Frames of a piece, 0.1 s.
    piece: usize,
    /// Of the piece on its way: frames so far and the sum of their squares.
    now: (usize, f64),
    /// Mean squares, each side counted half.
    pieces: Vec<f64>,
}

impl Sounding {
    fn new(sample_rate: u32) -> Self {
        Sounding { piece: sample_rate as usize / 10, now: (0, 0.0), pieces: Vec::new() }
    }

    fn take(&mut self, mut frames: &[Frame]) {
        while !frames.is_empty() {
            let (of, rest) = frames.split_at(frames.len().min(self.piece - self.now.0));
            self.now.0 += of.len();
            self.now.1 += squares(of);
            if self.now.0 == self.piece {
                self.pieces.push(self.now.1 / (2 * self.piece) as f64);
                self.now = (0, 0.0);
            }
            frames = rest;
        }
    }

    /// The mean square of the blocks that count; 0 where none does.
    fn mean(&self) -> f64 {
        let blocks: Vec<f64> = self.pieces.windows(4).map(|w| w.iter().sum::<f64>() / 4.0).collect();
        let mean_over = |gate: f64| {
            let (count, sum) = blocks.iter().filter(|b| **b > gate).fold((0_u32, 0.0), |(n, sum), b| (n + 1, sum + b));
            if count == 0 { 0.0 } else { sum / f64::from(count) }
        };
        mean_over(mean_over(SOUNDING_FROM) * SOUNDING_UNDER)
    }
}

/// Gates of [`Sounding`]: -70 dBFS, and 10 dB under what is over it.
const SOUNDING_FROM: f64 = 1e-7;
const SOUNDING_UNDER: f64 = 0.1;

struct StripMeter {
    stations: Vec<StationMeter>,
    bands: BandMeter,
}

/// What is heard of all stations.
pub struct Stations {
    strips: Vec<(StripId, StripMeter)>,
    places: HashMap<StripId, usize>,
}

/// A measuring run on its way.
pub type Measuring = Run<Stations>;

impl Measuring {
    /// * `range` – the loop, not empty.
    pub fn new(session: &Session, bank: &AssetBank, range: LoopRange) -> Self {
        Measuring::begun(session, bank, range, false)
    }

    /// How it sounds without: every processor is passed by.
    ///
    /// * `range` – the loop, not empty.
    pub fn without(session: &Session, bank: &AssetBank, range: LoopRange) -> Self {
        Measuring::begun(session, bank, range, true)
    }

    fn begun(session: &Session, bank: &AssetBank, range: LoopRange, without: bool) -> Self {
        let rate = session.header.sample_rate;
        let mut engine = Engine::new(session, bank, BLOCK, Metering::Off);
        if without {
            let all = engine.meter_layout().into_iter().flat_map(|l| l.processors);
            engine.pass_by(&Bypass { processors: all.map(|id| (id, 0.0)).collect(), main_db: 0.0 });
        }
        let strips: Vec<(StripId, StripMeter)> = engine
            .meter_layout()
            .into_iter()
            .map(|layout| {
                let of = |station| StationMeter::new(station, rate);
                let processors = layout.processors.into_iter().map(|id| of(Station::Processor(id)));
                let ends = [of(Station::Source), of(Station::Trimmed)];
                let stations = ends.into_iter().chain(processors).chain([of(Station::Out)]).collect();
                (layout.strip, StripMeter { stations, bands: BandMeter::new(rate) })
            })
            .collect();
        let places = strips.iter().enumerate().map(|(at, (id, _))| (*id, at)).collect();
        let span = Span::new(range, rate);
        let before = span.ring + engine.latency();
        Run::of(Source::engine(engine, span), [before; 2], before + span.length, Stations { strips, places })
    }

    /// What was found so far.
    pub fn read(&self) -> Measured {
        let frames = self.kept();
        let strips = self.heard.strips.iter().map(|(id, meter)| StripLevels {
            strip: *id,
            stations: meter.stations.iter().map(|s| s.read(frames)).collect(),
            spectrum: meter.bands.read(),
        });
        Measured { strips: strips.collect(), frames }
    }
}

impl Listener for Stations {
    const STATIONS: bool = true;

    fn station(&mut self, strip: StripId, station: Station, frames: &[Frame], kept: bool) {
        let Some(at) = self.places.get(&strip).filter(|_| kept) else { return };
        let meter = &mut self.strips[*at].1;
        if let Some(found) = meter.stations.iter_mut().find(|s| s.station == station) {
            found.take(frames);
        }
        if station == Station::Trimmed {
            meter.bands.take(frames);
        }
    }
}
