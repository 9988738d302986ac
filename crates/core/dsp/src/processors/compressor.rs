//! A compressor in the log domain with a smooth decoupled detector and a soft knee (Giannoulis, Massberg and
//! Reiss, Digital Dynamic Range Compressor Design, JAES 60, 2012).

use crate::kind::{Kind, Place, Unit};
pub use crate::parts::Detect;
use crate::parts::TimeIn;
use crate::parts::{DelayLine, Detector, Ramp, frames_of, options, past_weight, settings};
use lane_units::{Frame, all_db_to_gain, all_gain_to_db, db_to_gain};

/// A ratio from here on holds the level at the threshold.
pub const WHOLE_RATIO: f64 = 100.0;
/// How much faster than the level what is lifted comes up over the floor, in dB a dB, until it is where the ratio has it.
const RISE: f64 = 2.0;
/// Reductions below this are none.
const SILENCE_DB: f64 = 1e-9;

options! {
    /// Which end of the level it brings nearer to the other.
    Direction {
        /// What is over the threshold comes down.
        Down: "down", "Loud down";
        /// What is under the threshold, and over the floor, comes up.
        Up: "up", "Soft up";
    }
}

settings! {
    /// A compressor. Its level is its own input's or its key's. What it lifts counts as a reduction below 0.
    Compressor {
        threshold_dbfs: "Threshold", "dBFS", Even -80.0 to 0.0, -18.0;
        /// From 100 on, the level is held at the threshold.
        ratio: "Ratio", ":1", Ratio 1.0 to 100.0, 4.0;
        /// Width of the bend around the threshold.
        knee_db: "Knee", "dB", Even 0.0 to 24.0, 6.0;
        /// Time until 63 % of a step of the reduction are reached.
        attack_ms: "Attack", "ms", Ratio 0.02 to 250.0, 10.0;
        hold_ms: "Hold", "ms", Even 0.0 to 500.0, 0.0;
        /// Time until 63 % of the reduction are let go, where the attack is much shorter.
        release_ms: "Release", "ms", Ratio 1.0 to 2500.0, 120.0;
        /// The reduction goes no further.
        range_db: "Range", "dB", Even 0.0 to 60.0, 60.0;
        /// How far ahead of the sound the level is known; as much latency.
        lookahead_ms: "Lookahead", "ms", Even 0.0 to 20.0, 0.0;
        /// How much the louder side counts for both.
        link_percent: "Stereo link", "%", Even 0.0 to 100.0, 100.0;
        makeup_db: "Makeup", "dB", Even 0.0 to 36.0, 0.0;
        /// Of what is lifted: what is softer stays as it is, so that silence stays silent.
        floor_dbfs: "Floor", "dBFS", Even -100.0 to 0.0, -60.0;
        /// What it shall take away or lift at most over the loop; 0 where nobody said. Nothing is held to it.
        budget_db: "Budget", "dB", Even 0.0 to 24.0, 0.0;
    }
    choices {
        direction: "Brings", Direction = Down;
        detect: "Level by", Detect = Peak;
        attack_in: "Attack in", TimeIn = Milliseconds;
        hold_in: "Hold in", TimeIn = Milliseconds;
        release_in: "Release in", TimeIn = Milliseconds;
    }
}

impl Kind for Compressor {
    const NAME: &'static str = "Compressor";
    const TAKES_KEY: bool = true;
    const REDUCES: bool = true;
    type Course = Self;
    type Unit = State;

    fn course(&self, place: Place) -> Self {
        Compressor {
            attack_ms: self.attack_in.ms(self.attack_ms, (0.02, 250.0), place),
            hold_ms: self.hold_in.ms(self.hold_ms, (0.0, 500.0), place),
            release_ms: self.release_in.ms(self.release_ms, (1.0, 2500.0), place),
            ..self.clone()
        }
    }

    fn follows_tempo(&self) -> bool {
        [self.attack_in, self.hold_in, self.release_in].iter().any(|t| t.is_note())
    }

    fn latency(&self, sample_rate: u32) -> usize {
        frames_of(self.lookahead_ms, sample_rate)
    }

    fn gain_at_rest(&self) -> f64 {
        db_to_gain(self.makeup_db)
    }
}

impl Compressor {
    /// Part of what is over the threshold that is taken away.
    fn slope(&self) -> f64 {
        if self.ratio >= WHOLE_RATIO { 1.0 } else { 1.0 - 1.0 / self.ratio }
    }

    /// Reduction in dB that a steady level meets; below 0 where it is lifted.
    pub fn reduction_db(&self, level_dbfs: f64) -> f64 {
        Curve::new(targets(self), self.direction).reduction_db(level_dbfs)
    }
}

/// Threshold, slope, knee, range and floor at work.
#[derive(Debug, Clone, Copy)]
struct Curve {
    threshold: f64,
    slope: f64,
    half_knee: f64,
    /// One over twice the knee; 0 where there is none.
    bend: f64,
    range: f64,
    floor: f64,
    direction: Direction,
}

/// Threshold, slope, knee, range, floor, makeup.
type Values = [f64; 6];

impl Curve {
    fn new([threshold, slope, knee, range, floor, _]: Values, direction: Direction) -> Self {
        let bend = if knee > 0.0 { 0.5 / knee } else { 0.0 };
        Curve { threshold, slope, half_knee: 0.5 * knee, bend, range, floor, direction }
    }

    #[inline]
    fn reduction_db(self, level_dbfs: f64) -> f64 {
        match self.direction {
            Direction::Down => self.past(level_dbfs - self.threshold),
            Direction::Up => {
                let risen = (RISE * (level_dbfs - self.floor)).max(0.0);
                -self.past(self.threshold - level_dbfs).min(risen)
            }
        }
    }

    /// What a level that is so far past the threshold changes by, in dB.
    #[inline]
    fn past(self, over: f64) -> f64 {
        let into = (over + self.half_knee).max(0.0).min(2.0 * self.half_knee);
        let beyond = (over - self.half_knee).max(0.0);
        (self.slope * (into * into * self.bend + beyond)).min(self.range)
    }
}

/// So far under the bend of the curve what is computed of it is exactly nothing.
const QUIET_DB: f64 = 1e-6;

/// Frames computed at a time at most.
const PIECE: usize = 64;

/// One side of the gain.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
struct Side {
    /// After hold and release.
    released: f64,
    /// After the attack too: the reduction in dB.
    reduction: f64,
    held: u32,
}

impl Side {
    /// Turns reductions that are wanted into those that are reached.
    #[inline]
    fn run(&mut self, reductions: &mut [f64], [attack, release]: [f64; 2], hold: u32) {
        let Side { mut released, mut reduction, mut held } = *self;
        for wanted in reductions {
            if *wanted >= released {
                (released, held) = (*wanted, hold);
            } else if held > 0 {
                held -= 1;
            } else {
                released = *wanted + release * (released - *wanted);
            }
            reduction = released + attack * (reduction - released);
            if reduction.abs() < SILENCE_DB {
                reduction = 0.0;
                if released.abs() < SILENCE_DB {
                    released = 0.0;
                }
            }
            *wanted = reduction;
        }
        *self = Side { released, reduction, held };
    }
}

/// A compressor at work.
#[derive(Debug, Clone)]
pub struct State {
    attack: f64,
    release: f64,
    hold: u32,
    lookahead: usize,
    link: f64,
    curve: Ramp<6>,
    direction: Direction,
    /// Up to this linear level nothing is changed while the curve rests.
    quiet: f64,
    detector: Detector,
    sound: DelayLine,
    sides: [Side; 2],
    most_db: f64,
}

fn targets(s: &Compressor) -> Values {
    [s.threshold_dbfs, s.slope(), s.knee_db, s.range_db, s.floor_dbfs, s.makeup_db]
}

/// The one of two that is farther from nothing.
fn farther(a: f64, b: f64) -> f64 {
    if b.abs() > a.abs() { b } else { a }
}

impl State {
    /// The levels of both sides, of the first alone where they are linked.
    fn levels(&mut self, heard: &[Frame]) -> [[f64; PIECE]; 2] {
        let mut levels = [[0.0; PIECE]; 2];
        let [first, second] = &mut levels;
        for ((first, second), heard) in first.iter_mut().zip(second).zip(heard) {
            let [l, r] = self.detector.step(*heard);
            let both = l.max(r);
            (*first, *second) = (l + self.link * (both - l), r + self.link * (both - r));
        }
        levels
    }

    /// The gains in dB that follow from what is heard.
    fn follow(&mut self, heard: &[Frame], gains: &mut [[f64; 2]]) {
        let mut values = [self.curve.target(); PIECE];
        let moves = self.curve.moves();
        if moves {
            values[..heard.len()].fill_with(|| self.curve.step());
        }
        let mut levels = self.levels(heard);
        let linked = self.link == 1.0;
        let direction = self.direction;
        for (side, levels) in self.sides.iter_mut().zip(&mut levels).take(if linked { 1 } else { 2 }) {
            let levels = &mut levels[..heard.len()];
            // What is softer is not reduced in any case.
            if !moves && levels.iter().all(|level| *level <= self.quiet) {
                levels.fill(0.0);
            } else {
                all_gain_to_db(levels);
                if moves {
                    levels
                        .iter_mut()
                        .zip(values)
                        .for_each(|(x, values)| *x = Curve::new(values, direction).reduction_db(*x));
                } else {
                    let curve = Curve::new(values[0], direction);
                    levels.iter_mut().for_each(|x| *x = curve.reduction_db(*x));
                }
            }
            side.run(levels, [self.attack, self.release], self.hold);
            self.most_db = levels.iter().fold(self.most_db, |most, x| farther(most, *x));
        }
        if linked {
            (self.sides[1], levels[1]) = (self.sides[0], levels[0]);
        }
        let [left, right] = &levels;
        for (gains, ((l, r), [.., makeup_db])) in gains.iter_mut().zip(left.iter().zip(right).zip(values)) {
            *gains = [makeup_db - l, makeup_db - r];
        }
    }
}

impl Unit<Compressor> for State {
    fn new(settings: &Compressor, place: Place) -> Self {
        let sample_rate = place.sample_rate;
        let mut state = State {
            attack: 0.0,
            release: 0.0,
            hold: 0,
            lookahead: 0,
            link: 1.0,
            curve: Ramp::at(targets(settings)),
            direction: settings.direction,
            quiet: 0.0,
            detector: Detector::new(settings.detect, sample_rate),
            sound: DelayLine::new(settings.latency(sample_rate) + PIECE),
            sides: [Side::default(); 2],
            most_db: 0.0,
        };
        state.set(settings, place);
        state
    }

    fn set(&mut self, s: &Compressor, Place { sample_rate, .. }: Place) {
        self.attack = past_weight(s.attack_ms, sample_rate);
        self.release = past_weight(s.release_ms, sample_rate);
        self.hold = frames_of(s.hold_ms, sample_rate) as u32;
        self.lookahead = s.latency(sample_rate);
        self.link = s.link_percent / 100.0;
        self.curve.go_to(targets(s), sample_rate);
        self.direction = s.direction;
        self.quiet = match s.direction {
            Direction::Down => db_to_gain(s.threshold_dbfs - s.knee_db / 2.0 - QUIET_DB),
            Direction::Up => db_to_gain(s.floor_dbfs - QUIET_DB),
        };
        self.detector.set(s.detect);
    }

    fn inherit(&mut self, old: Self) {
        (self.sides, self.detector) = (old.sides, old.detector);
    }

    fn process(&mut self, frames: &mut [Frame], key: Option<&[Frame]>) {
        for (n, piece) in frames.chunks_mut(PIECE).enumerate() {
            let mut gains = [[0.0; 2]; PIECE];
            let gains = &mut gains[..piece.len()];
            self.follow(key.map_or(&*piece, |k| &k[n * PIECE..][..gains.len()]), gains);
            all_db_to_gain(gains.as_flattened_mut());
            self.sound.run(piece, self.lookahead);
            for (frame, gain) in piece.iter_mut().zip(gains) {
                *frame = [frame[0] * gain[0], frame[1] * gain[1]];
            }
        }
    }

    fn take_reduction_db(&mut self) -> f64 {
        let most = self.most_db;
        let now = farther(self.sides[0].reduction, self.sides[1].reduction);
        self.most_db = if now.abs() < most.abs() { now } else { most };
        most
    }

    fn feed(&mut self, frames: &[Frame], gain: f64) {
        self.sound.push_at(frames, gain);
    }

    fn memory(&self) -> usize {
        self.lookahead
    }

    fn rests(&self, silent: usize) -> bool {
        let still = |side: &Side| *side == Side { released: 0.0, reduction: 0.0, held: self.hold };
        silent >= self.lookahead + PIECE && !self.curve.moves() && self.detector.rests() && self.sides.iter().all(still)
    }

    fn reset(&mut self) {
        self.detector.reset();
        self.sound.reset();
        self.sides = [Side::default(); 2];
        self.most_db = 0.0;
    }
}
