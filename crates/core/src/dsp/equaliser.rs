//! An equaliser of up to 16 bands, each as its analogue model up to the top.

use super::biquad::{Analogue, Section, SectionMemory};
use super::frames_of;
use super::param::{options, settings};
use crate::units::{Frame, gain_to_db};
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;

/// Bands at most.
pub const BANDS: usize = 16;
/// Sections of one band at most: 48 dB per octave.
const SECTIONS: usize = 4;
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

impl Equaliser {
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

    /// Frames for which it rings on.
    pub fn tail(&self, sample_rate: u32) -> usize {
        sections(self, sample_rate).iter().map(Section::tail).sum()
    }
}

fn sections(settings: &Equaliser, sample_rate: u32) -> Vec<Section> {
    let heard = settings.bands.iter().take(BANDS).filter(|b| b.switch == Switch::On);
    heard.flat_map(|band| of_band(band, sample_rate)).collect()
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

/// Sections with what they remember.
#[derive(Debug, Clone)]
struct Bank {
    sections: Vec<Section>,
    memory: Vec<SectionMemory>,
}

impl Bank {
    fn new(sections: Vec<Section>) -> Self {
        let memory = vec![SectionMemory::default(); sections.len()];
        Bank { sections, memory }
    }

    #[inline]
    fn step(&mut self, frame: Frame) -> Frame {
        self.sections.iter().zip(&mut self.memory).fold(frame, |x, (section, memory)| memory.step(section, x))
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
    /// Sections of a move that is over, kept so that nothing is freed while sound is made.
    spent: Option<Bank>,
}

impl State {
    pub fn new(settings: &Equaliser, sample_rate: u32) -> Self {
        State {
            asked: settings.clone(),
            now: Bank::new(sections(settings, sample_rate)),
            before: Bank::new(Vec::with_capacity(BANDS * SECTIONS)),
            left: 0,
            fade: frames_of(FADE_MS, sample_rate).max(1) as u32,
            next: None,
            spent: None,
        }
    }

    pub fn set(&mut self, settings: &Equaliser, sample_rate: u32) {
        self.spent = None;
        if *settings != self.asked {
            self.asked = settings.clone();
            self.next = Some(Bank::new(sections(settings, sample_rate)));
        }
    }

    pub fn process(&mut self, frames: &mut [Frame]) {
        for frame in frames {
            if self.left == 0
                && let Some(mut next) = self.next.take()
            {
                // It begins with what the one before remembers, so that it does not ring in from nothing.
                for (new, old) in next.memory.iter_mut().zip(&self.now.memory) {
                    *new = *old;
                }
                std::mem::swap(&mut self.now, &mut next);
                std::mem::swap(&mut self.before, &mut next);
                self.spent = Some(next);
                self.left = self.fade;
            }
            let x = *frame;
            *frame = self.now.step(x);
            if self.left > 0 {
                self.left -= 1;
                let old = self.before.step(x);
                let rest = f64::from(self.left) / f64::from(self.fade);
                for side in 0..2 {
                    frame[side] += rest * (old[side] - frame[side]);
                }
            }
        }
    }

    pub fn reset(&mut self) {
        if let Some(next) = self.next.take() {
            self.now = next;
        }
        self.left = 0;
        self.now.memory.fill(SectionMemory::default());
    }
}
