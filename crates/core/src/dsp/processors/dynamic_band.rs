//! A bell or shelf whose gain follows a level: a state-variable filter (Zavalishin, The Art of VA Filter Design, 2012)
//! whose gain moves frame by frame.

use super::band::{Band, Shape};
use crate::dsp::parts::{Svf, frames_of, past_weight};
use crate::units::{Frame, Reader, Words, db_to_gain, gain_to_db};
use std::f64::consts::PI;

/// States below this are silence; about -300 dBFS.
const SILENCE: f64 = 1e-15;
/// Moves below this are none.
const STILL_DB: f64 = 1e-9;
/// A peak counts at least and at most so long, so that a tone of 20 Hz has a steady level.
const HOLD_MS: (f64, f64) = (1.0, 26.0);

/// How one band moves, worked out.
#[derive(Debug, Clone, PartialEq)]
pub struct Motion {
    shape: Shape,
    /// Tangent of the corner.
    g: f64,
    q: f64,
    threshold_dbfs: f64,
    /// Below this linear level nothing moves.
    quiet: f64,
    range_db: f64,
    attack: f64,
    release: f64,
    hold: u32,
    /// What hears the band, at rest.
    probe: Svf,
}

impl Motion {
    /// `None` where a band does not move.
    pub fn new(band: &Band, sample_rate: u32) -> Option<Self> {
        if !band.moves() {
            return None;
        }
        let rate = f64::from(sample_rate);
        let freq = band.freq_hz.min(0.49 * rate);
        // Half a wave of the lowest that counts.
        let half_wave_ms = if band.shape == Shape::LowShelf { HOLD_MS.1 } else { 550.0 / freq };
        Some(Motion {
            shape: band.shape,
            g: libm::tan(PI * freq / rate),
            q: band.q,
            threshold_dbfs: band.threshold_dbfs,
            quiet: db_to_gain(band.threshold_dbfs),
            range_db: band.range_db,
            attack: past_weight(band.attack_ms, sample_rate),
            release: past_weight(band.release_ms, sample_rate),
            hold: frames_of(half_wave_ms.clamp(HOLD_MS.0, HOLD_MS.1), sample_rate) as u32,
            probe: Svf::with_q(freq, if band.shape == Shape::Bell { band.q } else { 0.71 }, sample_rate),
        })
    }
}

impl Words for Motion {
    fn write(&self, words: &mut Vec<f64>) {
        let Motion { shape, g, q, threshold_dbfs, quiet, range_db, attack, release, hold, probe } = self;
        words.extend([f64::from(*shape as u8), *g, *q, *threshold_dbfs, *quiet, *range_db, *attack, *release]);
        words.push(f64::from(*hold));
        probe.write(words);
    }

    fn read(words: &mut Reader) -> Option<Self> {
        let shape = *Shape::ALL.get(words.count()?)?;
        let [g, q, threshold_dbfs, quiet, range_db, attack, release, hold] = words.array()?;
        let probe = Svf::read(words)?;
        Some(Motion { shape, g, q, threshold_dbfs, quiet, range_db, attack, release, hold: hold as u32, probe })
    }
}

/// One moving band with what it remembers.
#[derive(Debug, Clone)]
pub struct DynamicBand {
    course: Motion,
    /// The two states of each side.
    memory: [[f64; 2]; 2],
    released: f64,
    held: u32,
    /// How far it has moved, without its sign, in dB.
    moved: f64,
    most_db: f64,
}

impl DynamicBand {
    pub fn new(motion: &Motion) -> Self {
        let course = motion.clone();
        DynamicBand { course, memory: [[0.0; 2]; 2], released: 0.0, held: 0, moved: 0.0, most_db: 0.0 }
    }

    /// Whether silence changes nothing in it.
    pub fn rests(&self) -> bool {
        self.course.probe.rests()
            && self.memory == [[0.0; 2]; 2]
            && (self.released, self.moved, self.held) == (0.0, 0.0, self.course.hold)
    }

    /// Goes on from where another one stands.
    pub fn take_over(&mut self, other: &DynamicBand) {
        self.course.probe.take_over(&other.course.probe);
        (self.memory, self.released, self.held, self.moved) = (other.memory, other.released, other.held, other.moved);
    }

    /// The level in the band, linear.
    #[inline]
    fn level(&mut self, heard: Frame) -> f64 {
        let mut level = 0.0_f64;
        for (side, x) in heard.into_iter().enumerate() {
            let [low, band, high] = self.course.probe.step(side, x);
            let found = match self.course.shape {
                Shape::LowShelf => low,
                Shape::HighShelf => high,
                _ => band / self.course.q,
            };
            level = level.max(found.abs());
        }
        level
    }

    /// The next frame; `heard` says how loud it is in the band.
    #[inline]
    pub fn step(&mut self, frame: Frame, heard: Frame) -> Frame {
        let level = self.level(heard);
        let c = &self.course;
        let wanted =
            if level > c.quiet { (gain_to_db(level) - c.threshold_dbfs).clamp(0.0, c.range_db.abs()) } else { 0.0 };
        if wanted >= self.released {
            (self.released, self.held) = (wanted, c.hold);
        } else if self.held > 0 {
            self.held -= 1;
        } else {
            self.released = wanted + c.release * (self.released - wanted);
        }
        self.moved = self.released + c.attack * (self.moved - self.released);
        if self.moved < STILL_DB && self.released < STILL_DB {
            (self.moved, self.released) = (0.0, 0.0);
        }
        let gain_db = self.moved.copysign(c.range_db);
        if -gain_db > self.most_db {
            self.most_db = -gain_db;
        }
        self.filter(frame, gain_db)
    }

    #[inline]
    fn filter(&mut self, mut frame: Frame, gain_db: f64) -> Frame {
        let Motion { shape, g, q, .. } = self.course;
        // The square root of the gain.
        let a = if gain_db == 0.0 { 1.0 } else { db_to_gain(gain_db / 2.0) };
        let (g, k, m0, m1, m2) = match shape {
            Shape::LowShelf => (g / libm::sqrt(a), 1.0 / q, 1.0, (a - 1.0) / q, a * a - 1.0),
            Shape::HighShelf => (g * libm::sqrt(a), 1.0 / q, a * a, (1.0 - a) * a / q, 1.0 - a * a),
            _ => (g, 1.0 / (q * a), 1.0, (a * a - 1.0) / (q * a), 0.0),
        };
        let a1 = 1.0 / (1.0 + g * (g + k));
        let a2 = g * a1;
        let a3 = g * a2;
        for (x, [first, second]) in frame.iter_mut().zip(&mut self.memory) {
            let v3 = *x - *second;
            let v1 = a1 * *first + a2 * v3;
            let v2 = *second + a2 * *first + a3 * v3;
            *first = 2.0 * v1 - *first;
            *second = 2.0 * v2 - *second;
            if first.abs() < SILENCE && second.abs() < SILENCE {
                (*first, *second) = (0.0, 0.0);
            }
            *x = m0 * *x + m1 * v1 + m2 * v2;
        }
        frame
    }

    /// The most that it took away since the last call, in dB.
    pub fn take_reduction_db(&mut self) -> f64 {
        let now = if self.course.range_db < 0.0 { self.moved } else { 0.0 };
        std::mem::replace(&mut self.most_db, now)
    }

    pub fn reset(&mut self) {
        self.course.probe.reset();
        self.memory = [[0.0; 2]; 2];
        (self.released, self.held, self.moved, self.most_db) = (0.0, 0, 0.0, 0.0);
    }
}
