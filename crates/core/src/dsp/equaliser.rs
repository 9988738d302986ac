//! An equaliser of up to 16 bands, each as its analogue model up to the top. The gain of a bell or shelf can move
//! with the level in the band.

use super::biquad::{Analogue, Runner, Section, run_all};
use super::dynamic_band::DynamicBand;
use super::param::{options, settings};
use super::{Kind, Place, Unit, frames_of};
use crate::units::{Frame, gain_to_db};
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;

/// Bands at most.
pub const BANDS: usize = 16;
/// Length of the move from one set of bands to another in milliseconds.
const FADE_MS: f64 = 5.0;

options! {
    /// What a band does.
    Shape {
        HighPass: "high_pass", "High-pass";
        LowShelf: "low_shelf", "Low shelf";
        Bell: "bell", "Bell";
        HighShelf: "high_shelf", "High shelf";
        LowPass: "low_pass", "Low-pass";
        Notch: "notch", "Notch";
    }
}

options! {
    /// How steep a high-pass or low-pass is.
    Slope {
        Db6: "6", "6 dB/oct";
        Db12: "12", "12 dB/oct";
        Db18: "18", "18 dB/oct";
        Db24: "24", "24 dB/oct";
        Db36: "36", "36 dB/oct";
        Db48: "48", "48 dB/oct";
    }
}

options! {
    /// Whether a band is heard.
    Switch {
        On: "on", "On";
        Off: "off", "Off";
    }
}

settings! {
    /// One band.
    Band {
        /// Corner or centre; kept under 0.49 of the session's rate.
        freq_hz: "Frequency", "Hz", Ratio 10.0 to 22000.0, 1000.0;
        /// Of bells and shelves.
        gain_db: "Gain", "dB", Even -24.0 to 24.0, 0.0;
        /// Of bells, shelves and notches, and of passes of 12 dB per octave.
        q: "Q", "", Ratio 0.1 to 40.0, 0.71;
        /// How far the gain of a bell or shelf moves at most, as the level in the band goes over the threshold by as
        /// much; 0 for a band that does not move.
        range_db: "Moves by", "dB", Even -24.0 to 24.0, 0.0;
        /// In the band: what a bell's own band-pass, or what lies on a shelf's side of its corner, peaks at.
        threshold_dbfs: "From", "dBFS", Even -80.0 to 0.0, -30.0;
        attack_ms: "Attack", "ms", Ratio 0.1 to 250.0, 5.0;
        release_ms: "Release", "ms", Ratio 5.0 to 2500.0, 120.0;
    }
    choices {
        shape: "Shape", Shape = Bell;
        slope: "Slope", Slope = Db12;
        switch: "Heard", Switch = On;
    }
}

/// An equaliser. Without bands, or with bells and shelves at 0 dB, it is transparent.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Equaliser {
    /// Up to 16, in the order in which they are listed; the order makes no difference to the sound.
    pub bands: Vec<Band>,
}

impl Band {
    /// Whether its gain follows the level.
    pub fn moves(&self) -> bool {
        self.range_db != 0.0 && matches!(self.shape, Shape::Bell | Shape::LowShelf | Shape::HighShelf)
    }
}

impl Kind for Equaliser {
    const NAME: &'static str = "Equaliser";
    const TAKES_KEY: bool = true;
    const REDUCES: bool = true;
    type Unit = State;

    fn tail(&self, place: Place) -> usize {
        // A moving bell rings as long as a still one.
        let whole = |b: &Band| of_band(&Band { gain_db: b.range_db, ..b.clone() }, place.sample_rate);
        let moving = self.heard().filter(|b| b.moves()).flat_map(whole).collect::<Vec<_>>();
        sections(self, place.sample_rate).iter().chain(&moving).map(Section::tail).sum()
    }
}

impl Equaliser {
    fn heard(&self) -> impl Iterator<Item = &Band> {
        self.bands.iter().take(BANDS).filter(|b| b.switch == Switch::On)
    }

    /// It has no choices beside its bands.
    pub fn choices() -> Vec<super::Choice> {
        Vec::new()
    }

    /// With every moving band as far as it goes.
    pub fn moved(&self) -> Equaliser {
        let whole = |b: &Band| {
            if b.moves() {
                Band { gain_db: (b.gain_db + b.range_db).clamp(-48.0, 48.0), ..b.clone() }
            } else {
                b.clone()
            }
        };
        Equaliser { bands: self.bands.iter().map(whole).collect() }
    }

    /// The values of all bands.
    pub fn values(&self) -> Vec<(&'static super::Param, f64)> {
        self.bands.iter().flat_map(Band::values).collect()
    }

    /// Its gain in dB at some frequencies in Hz: what its own coefficients give.
    pub fn response_db(&self, freqs_hz: &[f64], sample_rate: u32) -> Vec<f64> {
        let sections = sections(self, sample_rate);
        let at = |hz: &f64| {
            let turns = hz / f64::from(sample_rate);
            gain_to_db(sections.iter().map(|s| s.magnitude(turns)).product::<f64>()).max(-150.0)
        };
        freqs_hz.iter().map(at).collect()
    }
}

fn sections(settings: &Equaliser, sample_rate: u32) -> Vec<Section> {
    settings.heard().flat_map(|band| of_band(band, sample_rate)).collect()
}

fn of_band(band: &Band, sample_rate: u32) -> Vec<Section> {
    // What takes away is the inverse of what adds, so that the two undo each other. Of the two, the one whose poles
    // lie lower is matched: there impulse invariance is exact.
    let inverted = match band.shape {
        Shape::Bell | Shape::LowShelf => band.gain_db < 0.0,
        Shape::HighShelf => band.gain_db > 0.0,
        _ => false,
    };
    if inverted {
        let opposite = Band { gain_db: -band.gain_db, ..band.clone() };
        return matched(&opposite, sample_rate).iter().map(Section::inverse).collect();
    }
    matched(band, sample_rate)
}

fn matched(band: &Band, sample_rate: u32) -> Vec<Section> {
    let (q, root) = (band.q, libm::exp10(band.gain_db / 80.0));
    // The square root of the gain, as the analogue models have it.
    let a = root * root;
    let section = |n: [f64; 3], d: [f64; 2]| vec![Section::matched(&Analogue { n, d }, band.freq_hz, sample_rate)];
    match band.shape {
        Shape::Bell | Shape::LowShelf | Shape::HighShelf if band.gain_db == 0.0 => Vec::new(),
        Shape::Bell => section([1.0, a / q, 1.0], [1.0 / (a * q), 1.0]),
        // The shelves of the analogue models, divided through so that s² stands alone below.
        Shape::LowShelf => section([1.0, root / q, a], [1.0 / (root * q), 1.0 / a]),
        Shape::HighShelf => section([a * a, a * root / q, a], [root / q, a]),
        Shape::Notch => vec![Section::notch(band.freq_hz, q, sample_rate)],
        Shape::HighPass => passes(band, sample_rate, true),
        Shape::LowPass => passes(band, sample_rate, false),
    }
}

/// Butterworth sections of a pass; at 12 dB per octave the band's own Q.
fn passes(band: &Band, sample_rate: u32, high: bool) -> Vec<Section> {
    let order = match band.slope {
        Slope::Db6 => 1,
        Slope::Db12 => 2,
        Slope::Db18 => 3,
        Slope::Db24 => 4,
        Slope::Db36 => 6,
        Slope::Db48 => 8,
    };
    let n = if high { [1.0, 0.0, 0.0] } else { [0.0, 0.0, 1.0] };
    let pair = |k: usize| {
        let angle = PI * (2 * k + 1) as f64 / (2 * order) as f64;
        let d1 = if order == 2 { 1.0 / band.q } else { 2.0 * libm::sin(angle) };
        Section::matched(&Analogue { n, d: [d1, 1.0] }, band.freq_hz, sample_rate)
    };
    let mut found: Vec<Section> = (0..order / 2).map(pair).collect();
    if order % 2 == 1 {
        found.push(Section::first_order(high, band.freq_hz, sample_rate));
    }
    found
}

/// Frames computed at a time at most.
const PIECE: usize = 64;

/// Sections and moving bands with what they remember.
#[derive(Debug, Clone)]
struct Bank {
    sections: Vec<Runner>,
    moving: Vec<DynamicBand>,
}

impl Bank {
    fn new(settings: &Equaliser, sample_rate: u32) -> Self {
        let sections = sections(settings, sample_rate).iter().map(Runner::new).collect();
        let moving = settings.heard().filter_map(|b| DynamicBand::new(b, sample_rate)).collect();
        Bank { sections, moving }
    }

    /// Nothing at all.
    fn empty() -> Self {
        Bank { sections: Vec::new(), moving: Vec::new() }
    }

    /// Begins with what another one remembers, so that it does not ring in from nothing.
    fn take_over(&mut self, other: &Bank) {
        for (new, old) in self.sections.iter_mut().zip(&other.sections) {
            new.take_over(old);
        }
        for (new, old) in self.moving.iter_mut().zip(&other.moving) {
            new.take_over(old);
        }
    }

    /// Takes at most [`PIECE`] frames; `heard` is what moves its bands where it is not the sound itself.
    fn run(&mut self, frames: &mut [Frame], heard: Option<&[Frame]>) {
        let mut input = [[0.0; 2]; PIECE];
        let input = &mut input[..frames.len()];
        if !self.moving.is_empty() {
            input.copy_from_slice(heard.unwrap_or(frames));
        }
        run_all(&mut self.sections, frames);
        for band in &mut self.moving {
            for (frame, heard) in frames.iter_mut().zip(input.iter()) {
                *frame = band.step(*frame, *heard);
            }
        }
    }

    fn settle(&mut self) {
        self.sections.iter_mut().for_each(Runner::settle);
    }

    fn reset(&mut self) {
        self.sections.iter_mut().for_each(Runner::reset);
        self.moving.iter_mut().for_each(DynamicBand::reset);
    }
}

/// An equaliser at work. Other settings come in over 5 ms; those that come meanwhile wait for the next move.
#[derive(Debug, Clone)]
pub struct State {
    /// What was asked last: sections are worked out only when it changes.
    asked: Equaliser,
    now: Bank,
    /// What is left behind, and frames left of the move.
    before: Bank,
    left: u32,
    fade: u32,
    next: Option<Bank>,
    /// Frames of the piece under way, at whose end what is inaudible is let go of.
    at: usize,
    /// Sections of a move that is over, kept so that nothing is freed while sound is made.
    spent: Option<Bank>,
}

impl Unit<Equaliser> for State {
    fn new(settings: &Equaliser, Place { sample_rate, .. }: Place) -> Self {
        State {
            asked: settings.clone(),
            now: Bank::new(settings, sample_rate),
            before: Bank::empty(),
            left: 0,
            fade: frames_of(FADE_MS, sample_rate).max(1) as u32,
            next: None,
            at: 0,
            spent: None,
        }
    }

    fn set(&mut self, settings: &Equaliser, Place { sample_rate, .. }: Place) {
        self.spent = None;
        if *settings != self.asked {
            self.asked = settings.clone();
            self.next = Some(Bank::new(settings, sample_rate));
        }
    }

    fn process(&mut self, mut frames: &mut [Frame], mut key: Option<&[Frame]>) {
        while !frames.is_empty() {
            if self.left == 0
                && let Some(mut next) = self.next.take()
            {
                next.take_over(&self.now);
                std::mem::swap(&mut self.now, &mut next);
                std::mem::swap(&mut self.before, &mut next);
                self.spent = Some(next);
                self.left = self.fade;
            }
            // A stretch ends where a move does, since another may begin there.
            let moving = if self.left > 0 { self.left as usize } else { PIECE };
            let count = frames.len().min(PIECE - self.at).min(moving);
            let (piece, rest) = frames.split_at_mut(count);
            let heard = key.map(|k| &k[..count]);
            if self.left > 0 {
                let mut old = [[0.0; 2]; PIECE];
                let old = &mut old[..count];
                old.copy_from_slice(piece);
                self.before.run(old, heard);
                self.now.run(piece, heard);
                for (frame, old) in piece.iter_mut().zip(old) {
                    self.left -= 1;
                    let rest = f64::from(self.left) / f64::from(self.fade);
                    for side in 0..2 {
                        frame[side] += rest * (old[side] - frame[side]);
                    }
                }
            } else {
                self.now.run(piece, heard);
            }
            self.at += count;
            if self.at == PIECE {
                self.at = 0;
                self.now.settle();
                self.before.settle();
            }
            frames = rest;
            key = key.map(|k| &k[count..]);
        }
    }

    fn take_reduction_db(&mut self) -> f64 {
        self.now.moving.iter_mut().map(DynamicBand::take_reduction_db).fold(0.0, f64::max)
    }

    fn reset(&mut self) {
        if let Some(next) = self.next.take() {
            self.now = next;
        }
        (self.left, self.at) = (0, 0);
        self.now.reset();
    }
}
