//! An equaliser of up to 16 bands, each as its analogue model up to the top. The gain of a bell or shelf can move
//! with the level in the band.

pub use super::band::{Band, Shape, Slope, Switch};
use super::dynamic_band::{DynamicBand, Motion};
use crate::kind::{Kind, Mix, Moment, Place, Unit};
use crate::parts::biquad::{Analogue, Runner, Section, run_all};
use crate::parts::{Choice, Param, frames_of};
use arrayvec::ArrayVec;
use lane_units::{Frame, Reader, Words, gain_to_db};
use serde::{Deserialize, Serialize};
use std::f64::consts::PI;

/// Bands at most.
pub const BANDS: usize = 16;
/// Length of the move from one set of bands to another in milliseconds.
const FADE_MS: f64 = 5.0;

/// An equaliser. Without bands, or with bells and shelves at 0 dB, it is transparent.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Equaliser {
    /// Up to 16, in the order in which they are listed; the order makes no difference to the sound.
    pub bands: Vec<Band>,
}

impl Kind for Equaliser {
    const NAME: &'static str = "Equaliser";
    const TAKES_KEY: bool = true;
    const REDUCES: bool = true;
    const MIX: Mix = Mix::Gains;
    type Course = Course;
    type Unit = State;

    fn course(&self, place: Place) -> Course {
        Course {
            sections: sections(self, place.sample_rate).into_iter().collect(),
            moving: self.heard().filter_map(|b| Motion::new(b, place)).collect(),
        }
    }

    fn follows_tempo(&self) -> bool {
        self.heard().any(|b| b.moves() && (b.attack_in.is_note() || b.release_in.is_note()))
    }

    fn in_part(&self, part: f64) -> Option<Self> {
        let less = |b: &Band| Band { gain_db: part * b.gain_db, range_db: part * b.range_db, ..b.clone() };
        Some(Equaliser { bands: self.bands.iter().map(less).collect() })
    }

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
    pub fn choices() -> Vec<Choice> {
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

    /// Sets a value of every band.
    pub fn set(&mut self, name: &str, value: f64) -> bool {
        let known = Band::PARAMS.iter().any(|p| p.name == name);
        self.bands.iter_mut().for_each(|band| {
            band.set(name, value);
        });
        known && !self.bands.is_empty()
    }

    /// The values of all bands.
    pub fn values(&self) -> Vec<(&'static Param, f64)> {
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

/// Sections of a band at most.
const SECTIONS_A_BAND: usize = 4;

/// What an equaliser at work follows: its sections and how its bands move, worked out.
#[derive(Debug, Clone, PartialEq)]
pub struct Course {
    sections: ArrayVec<Section, { SECTIONS_A_BAND * BANDS }>,
    moving: ArrayVec<Motion, BANDS>,
}

impl Words for Course {
    fn write(&self, words: &mut Vec<f64>) {
        words.push(self.sections.len() as f64);
        self.sections.iter().for_each(|s| s.write(words));
        words.push(self.moving.len() as f64);
        self.moving.iter().for_each(|m| m.write(words));
    }

    fn read(words: &mut Reader) -> Option<Self> {
        fn list<T: Words, const N: usize>(words: &mut Reader) -> Option<ArrayVec<T, N>> {
            let count = words.count()?;
            let mut list = ArrayVec::new();
            for _ in 0..count.min(N) {
                list.push(T::read(words)?);
            }
            Some(list)
        }
        Some(Course { sections: list(words)?, moving: list(words)? })
    }
}

/// Sections and moving bands with what they remember.
#[derive(Debug, Clone)]
struct Bank {
    sections: ArrayVec<Runner, { SECTIONS_A_BAND * BANDS }>,
    moving: ArrayVec<DynamicBand, BANDS>,
}

impl Bank {
    fn new(course: &Course) -> Self {
        Bank {
            sections: course.sections.iter().map(Runner::new).collect(),
            moving: course.moving.iter().map(DynamicBand::new).collect(),
        }
    }

    /// Nothing at all.
    fn empty() -> Self {
        Bank { sections: ArrayVec::new(), moving: ArrayVec::new() }
    }

    fn rests(&self) -> bool {
        self.sections.iter().all(Runner::rests) && self.moving.iter().all(DynamicBand::rests)
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

/// An equaliser at work. Another course comes in over 5 ms; one that comes meanwhile waits for the next move.
#[derive(Debug, Clone)]
pub struct State {
    /// What was asked last.
    asked: Course,
    now: Bank,
    /// What is left behind, and frames left of the move.
    before: Bank,
    left: u32,
    fade: u32,
    next: Option<Bank>,
    /// Frames of the piece under way, at whose end what is inaudible is let go of.
    at: usize,
}

impl Unit<Course> for State {
    fn new(course: &Course, Place { sample_rate, .. }: Place) -> Self {
        State {
            asked: course.clone(),
            now: Bank::new(course),
            before: Bank::empty(),
            left: 0,
            fade: frames_of(FADE_MS, sample_rate).max(1) as u32,
            next: None,
            at: 0,
        }
    }

    fn set(&mut self, course: &Course, _place: Place) {
        if *course != self.asked {
            self.asked.clone_from(course);
            self.next = Some(Bank::new(course));
        }
    }

    fn rests(&self, _silent: usize) -> bool {
        self.left == 0 && self.next.is_none() && self.now.rests()
    }

    fn pass(&mut self, frames: usize, _now: &Moment) {
        self.at = (self.at + frames) % PIECE;
    }

    fn process(&mut self, mut frames: &mut [Frame], mut key: Option<&[Frame]>) {
        while !frames.is_empty() {
            if self.left == 0
                && let Some(mut next) = self.next.take()
            {
                next.take_over(&self.now);
                self.before = std::mem::replace(&mut self.now, next);
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

    fn feed(&mut self, frames: &[Frame], _gain: f64) {
        // Nothing is heard, and time passes.
        self.at = (self.at + frames.len()) % PIECE;
    }

    fn take_reduction_db(&mut self) -> f64 {
        self.now.moving.iter_mut().map(DynamicBand::take_reduction_db).fold(0.0, f64::max)
    }

    fn reset(&mut self) {
        if let Some(next) = self.next.take() {
            self.now = next;
        }
        self.left = 0;
        self.now.reset();
    }
}
