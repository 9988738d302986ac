//! Paths held against what is known of them.

use super::*;
use lane_document::edit::{AddProcessor, AddVoices, Edit, NewHits, NewPath, NewVoice, SetStrips, StripChange, apply};
use lane_document::session::{
    AssetBank, AssetRef, Audio, Family, Hit, Hold, Key, Layer, Polarity, Processor, Session, Tempo, VoiceSource,
};
use lane_dsp::{Clipper, Compressor, Delay, Equaliser, Limiter, Reverb, Settings, StereoImage};
use lane_engine::{Engine, LoopRange, Metering};
use lane_units::{AssetId, Frame, ProcessorId, StripId, db_to_gain};
use rstest::rstest;
use std::sync::Arc;

mod aligned;
mod blends;
mod checked;
mod pressed;

const RATE: u32 = 48_000;
/// One bar at 120 bpm.
const BAR: u64 = 96_000;
const LOOP: LoopRange = LoopRange { from: 0, to: 2 * BAR };

/// Numbers from -1 to 1, the same every time.
struct Dice(u64);

impl Dice {
    fn next(&mut self) -> f64 {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 11) as f64 / (1_u64 << 52) as f64 - 1.0
    }
}

fn noise(seed: u64, frames: usize) -> Vec<f64> {
    let mut dice = Dice(seed);
    (0..frames).map(|_| 0.5 * dice.next()).collect()
}

/// A burst that falls away: a hit.
fn burst(seed: u64, frames: usize, time: f64) -> Vec<f64> {
    noise(seed, frames).iter().enumerate().map(|(n, x)| x * libm::exp(-(n as f64) / time)).collect()
}

struct Stage {
    s: Session,
    bank: AssetBank,
}

impl Stage {
    fn new() -> Self {
        Stage::at(RATE)
    }

    fn at(rate: u32) -> Self {
        let mut s = Session::new("Paths", rate);
        s.header.tempo_bpm = Tempo::new(120.0).unwrap();
        Stage { s, bank: AssetBank::new() }
    }

    fn asset(&mut self, samples: &[f64]) -> AssetRef {
        let id = AssetId(format!("{:064x}", self.bank.len() + 1));
        let audio = Audio::new(1, samples.iter().map(|x| *x as f32).collect()).unwrap();
        let frames = audio.frames() as u32;
        self.bank.insert(id.clone(), Arc::new(audio));
        AssetRef { id, name: "a.wav".into(), channels: 1, sample_rate: self.s.header.sample_rate, frames }
    }

    /// A lane that runs along with the song.
    fn recording(&mut self, name: &str, samples: &[f64]) -> StripId {
        let asset = self.asset(samples);
        let source = VoiceSource::Recording { asset: asset.id.clone(), start_frame: 0 };
        self.voice(name, source, asset, vec![])
    }

    /// A lane with hits at ticks.
    fn hits(&mut self, name: &str, samples: &[f64], at: &[u32]) -> StripId {
        let asset = self.asset(samples);
        let source = VoiceSource::OneShot { layers: vec![Layer::new(asset.id.clone())], hold: Hold::Whole };
        let hits = at.iter().map(|at| Hit::new(*at, 240, 127, 0)).collect();
        let pattern = self.s.patterns[0].id;
        self.voice(name, source, asset, vec![NewHits { pattern, hits }])
    }

    fn voice(&mut self, name: &str, source: VoiceSource, asset: AssetRef, hits: Vec<NewHits>) -> StripId {
        let voice =
            NewVoice { trim_db: 0.0, name: name.parse().unwrap(), family: Family::Low, source, output: None, hits };
        self.edit(Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![asset] }));
        self.s.voices[self.s.voices.len() - 1].channel
    }

    fn edit(&mut self, edit: Edit) {
        apply(&mut self.s, &edit).unwrap();
    }

    fn set(&mut self, strip: StripId, change: StripChange) {
        self.edit(Edit::SetStrips(SetStrips { strips: vec![strip], change }));
    }

    fn add(&mut self, strip: StripId, settings: Settings, key: Option<Key>) {
        self.edit(Edit::AddProcessor(AddProcessor { strips: vec![strip], settings, key, at: None }));
    }

    fn named(&self, name: &str) -> StripId {
        self.s.strips.iter().find(|x| x.name == name).unwrap().id
    }

    /// A parallel path at a level.
    fn path(&mut self, feeders: &[StripId], chain: Vec<Settings>, fader_db: f64) -> StripId {
        let processors = chain.into_iter().map(|x| Processor::new(ProcessorId(1), x)).collect();
        self.edit(Edit::NewPath(NewPath { name: "Press".into(), feeders: feeders.to_vec(), processors }));
        let path = self.named("Press");
        self.set(path, StripChange::FaderDb(fader_db));
        path
    }

    fn run(&self, path: Option<StripId>, lanes: &[StripId]) -> Paths {
        let asked = PathsAsked { path, lanes: lanes.to_vec() };
        let mut run = Paths::new(&self.s, &self.bank, LOOP, &asked);
        while run.step(50_000) < 1.0 {}
        run
    }

    fn main(&self) -> StripId {
        self.s.main().unwrap().id
    }

    /// Main over the loop, played as the engine plays it, its beginning rung in.
    fn rendered(&self, with_limiter: bool) -> Vec<Frame> {
        let mut s = self.s.clone();
        if !with_limiter {
            let main = s.strips.iter_mut().find(|x| x.id == self.main()).unwrap();
            main.chain.retain(|p| !matches!(p.settings, Settings::Limiter(_)));
        }
        let mut engine = Engine::new(&s, &self.bank, 512, Metering::Off);
        engine.set_loop(Some(LOOP));
        engine.seek(0);
        engine.play();
        let late = engine.latency() as usize;
        let mut out = vec![[0.0; 2]; late + 2 * LOOP.to as usize];
        engine.process(&mut out);
        out.split_off(late + LOOP.to as usize)
    }
}

/// A compressor that does a lot, fast.
fn hard() -> Settings {
    Settings::Compressor(Compressor {
        threshold_dbfs: -40.0,
        ratio: 8.0,
        attack_ms: 0.5,
        release_ms: 120.0,
        knee_db: 0.0,
        makeup_db: 12.0,
        ..Compressor::default()
    })
}
