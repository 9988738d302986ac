//! A bell or shelf whose gain follows a level.

use super::band::{Band, Shape};
use super::moving_filter::{Corner, MovingFilter};
use crate::kind::Place;
use crate::parts::{Svf, frames_of, past_weight};
use lane_units::{Frame, Reader, Words, db_to_gain, gain_to_db};

/// Moves below this are none.
const STILL_DB: f64 = 1e-9;
/// A peak counts at least and at most so long, so that a tone of 20 Hz has a steady level.
const HOLD_MS: (f64, f64) = (1.0, 26.0);

/// How one band moves, worked out.
#[derive(Debug, Clone, PartialEq)]
pub struct Motion {
    corner: Corner,
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
    pub fn new(band: &Band, place: Place) -> Option<Self> {
        if !band.moves() {
            return None;
        }
        let sample_rate = place.sample_rate;
        let rate = f64::from(sample_rate);
        let freq = band.freq_hz.min(0.49 * rate);
        // Half a wave of the lowest that counts.
        let half_wave_ms = if band.shape == Shape::LowShelf { HOLD_MS.1 } else { 550.0 / freq };
        Some(Motion {
            corner: Corner::new(band.shape, freq, band.q, sample_rate),
            threshold_dbfs: band.threshold_dbfs,
            quiet: db_to_gain(band.threshold_dbfs),
            range_db: band.range_db,
            attack: past_weight(band.attack_in.ms(band.attack_ms, (0.1, 250.0), place), sample_rate),
            release: past_weight(band.release_in.ms(band.release_ms, (5.0, 2500.0), place), sample_rate),
            hold: frames_of(half_wave_ms.clamp(HOLD_MS.0, HOLD_MS.1), sample_rate) as u32,
            probe: Svf::with_q(freq, if band.shape == Shape::Bell { band.q } else { 0.71 }, sample_rate),
        })
    }
}

impl Words for Motion {
    fn write(&self, words: &mut Vec<f64>) {
        let Motion { corner, threshold_dbfs, quiet, range_db, attack, release, hold, probe } = self;
        let Corner { shape, g, q } = corner;
        words.extend([f64::from(*shape as u8), *g, *q, *threshold_dbfs, *quiet, *range_db, *attack, *release]);
        words.push(f64::from(*hold));
        probe.write(words);
    }

    fn read(words: &mut Reader) -> Option<Self> {
        let shape = *Shape::ALL.get(words.count()?)?;
        let [g, q, threshold_dbfs, quiet, range_db, attack, release, hold] = words.array()?;
        let probe = Svf::read(words)?;
        let corner = Corner { shape, g, q };
        Some(Motion { corner, threshold_dbfs, quiet, range_db, attack, release, hold: hold as u32, probe })
    }
}

/// One moving band with what it remembers.
#[derive(Debug, Clone)]
pub struct DynamicBand {
    course: Motion,
    filter: MovingFilter,
    released: f64,
    held: u32,
    /// How far it has moved, without its sign, in dB.
    moved: f64,
    most_db: f64,
}

impl DynamicBand {
    pub fn new(motion: &Motion) -> Self {
        let course = motion.clone();
        DynamicBand { course, filter: MovingFilter::default(), released: 0.0, held: 0, moved: 0.0, most_db: 0.0 }
    }

    /// Whether silence changes nothing in it.
    pub fn rests(&self) -> bool {
        self.course.probe.rests()
            && self.filter.rests()
            && (self.released, self.moved, self.held) == (0.0, 0.0, self.course.hold)
    }

    /// Goes on from where another one stands.
    pub fn take_over(&mut self, other: &DynamicBand) {
        self.course.probe.take_over(&other.course.probe);
        (self.filter, self.released, self.held, self.moved) = (other.filter, other.released, other.held, other.moved);
    }

    /// The level in the band, linear.
    #[inline]
    fn level(&mut self, heard: Frame) -> f64 {
        let mut level = 0.0_f64;
        for (side, x) in heard.into_iter().enumerate() {
            let [low, band, high] = self.course.probe.step(side, x);
            let found = match self.course.corner.shape {
                Shape::LowShelf => low,
                Shape::HighShelf => high,
                _ => band / self.course.corner.q,
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
        self.filter.step(self.course.corner, frame, gain_db)
    }

    /// The most that it took away since the last call, in dB.
    pub fn take_reduction_db(&mut self) -> f64 {
        let now = if self.course.range_db < 0.0 { self.moved } else { 0.0 };
        std::mem::replace(&mut self.most_db, now)
    }

    pub fn reset(&mut self) {
        self.course.probe.reset();
        self.filter = MovingFilter::default();
        (self.released, self.held, self.moved, self.most_db) = (0.0, 0, 0.0, 0.0);
    }
}
