//! Curves without memory at four times the rate, with antiderivative anti-aliasing (Parker, Zavalishin and Le Bivic,
//! Reducing the Aliasing of Nonlinear Waveshaping Using Continuous-Time Convolution, DAFx 2016).
//!
//! The rate is doubled twice by half-band filters, every second weight of which is zero, and halved twice again.

use crate::kind::{Kind, Place, Unit};
use crate::parts::fir::{Fir, Pair, SILENCE, narrow, wide};
use crate::parts::{Ramp, bessel_i0};
use lane_units::{Frame, Words, db_to_gain, gain_to_db};
use std::f64::consts::PI;

/// Weights of the first doubling, of the second, of the first halving and of the last.
const TAPS: [usize; 4] = [67, 23, 24, 103];
/// Corners of the halvings in parts of the rate that they work at. The last lies half-way between 20 kHz, which
/// passes, and 25 kHz, which does not, at 48 kHz.
const CORNERS: [f64; 2] = [0.25, 0.234_375];
/// Shape of the Kaiser window: 85 dB.
const BETA: f64 = 8.41;
/// Slices of the integral over the passband.
const SLICES: usize = 256;

/// Frames by which the sound comes out later: what the filters take at four times the rate, with half a sample of
/// the antiderivative, less the three samples that come with the newest frame.
pub const LATENCY: usize = 47;

/// Frames after which nothing of the past is left in the filters.
const REACH: usize = 256;

/// Each frame becomes the mean of a curve from the one before to itself: the difference of the curve's antiderivatives
/// over the step, for `x / sqrt(1 + x²)` written as a quotient that needs no step.
///
/// * `hardness` – at a place: 0 for that soft curve, 1 for straight clipping, anything between. Both are held at 1.
#[inline]
fn means(last: Pair, frames: &mut [Pair], hardness: impl Fn(usize) -> f32) {
    let (mut points, mut roots) = ([[0.0; 2]; 4 * PIECE + 1], [[1.0; 2]; 4 * PIECE + 1]);
    let count = frames.len();
    points[0] = last;
    points[1..=count].copy_from_slice(frames);
    let (points, roots) = (points[..=count].as_flattened(), roots[..=count].as_flattened_mut());
    // The root is one of the operations that are rounded the same everywhere.
    for (root, x) in roots.iter_mut().zip(points) {
        *root = (1.0 + x * x).sqrt();
    }
    let steps = points.iter().zip(&points[2..]).zip(roots.iter().zip(&roots[2..]));
    for (n, (to, ((from, x), (from_root, root)))) in frames.as_flattened_mut().iter_mut().zip(steps).enumerate() {
        let soft = (from + x) / (from_root + root);
        let hardness = hardness(n / 2);
        let mean = if hardness == 0.0 { soft } else { soft + hardness * (straight(*from, *x) - soft) };
        *to = if mean.abs() < SILENCE as f32 { 0.0 } else { mean };
    }
}

/// The mean of straight clipping between two points, so that nothing cancels: what lies within its bounds, and what
/// lies beyond.
#[inline]
fn straight(from: f32, to: f32) -> f32 {
    let (held_from, held_to) = (from.clamp(-1.0, 1.0), to.clamp(-1.0, 1.0));
    let within = 0.5 * (held_to - held_from) * (held_to + held_from);
    let beyond = (to.abs() - held_to.abs()) - (from.abs() - held_from.abs());
    let mean = (within + beyond) / (to - from);
    // Both beyond on one side, or the same point twice.
    if held_from == held_to { held_to } else { mean }
}

/// A low-pass by window, its weights adding up to 1.
///
/// * `corner` – in parts of the rate.
/// * `lift` – makes up for what the antiderivative, a mean of two neighbours where the curve is straight, takes away
///   towards the top.
fn low_pass(taps: usize, corner: f64, lift: bool) -> Vec<f64> {
    let middle = (taps - 1) as f64 / 2.0;
    let corner = 2.0 * PI * corner;
    let response = |w: f64| if lift { 1.0 / libm::cos(w / 2.0) } else { 1.0 };
    let weight = |n: usize| {
        let t = n as f64 - middle;
        // Simpson's rule over the passband: the impulse response of that magnitude.
        let mut sum = 0.0;
        for slice in 0..=SLICES {
            let w = corner * slice as f64 / SLICES as f64;
            let share = match slice {
                0 | SLICES => 1.0,
                odd if odd % 2 == 1 => 4.0,
                _ => 2.0,
            };
            sum += share * response(w) * libm::cos(w * t);
        }
        let off = t / (middle + 1.0);
        sum * bessel_i0(BETA * libm::sqrt((1.0 - off * off).max(0.0)))
    };
    let weights: Vec<f64> = (0..taps).map(weight).collect();
    let sum: f64 = weights.iter().sum();
    weights.into_iter().map(|w| w / sum).collect()
}

/// Frames computed at a time at most.
const PIECE: usize = 32;
/// Twice the rate: of the two samples of a frame, one is a sum and one a frame of the past.
#[derive(Debug, Clone)]
struct Doubling {
    fir: Fir,
    /// How old the frame is that passes as it is.
    middle: usize,
}

impl Doubling {
    fn new(taps: usize, most: usize) -> Self {
        let weights = low_pass(taps, 0.25, false);
        // The middle one weighs a half, its neighbours at even distances nothing; what is left stands at even places.
        let sum: f64 = weights.iter().step_by(2).sum();
        let weights: Vec<f64> = weights.into_iter().step_by(2).map(|w| w / sum).collect();
        Doubling { middle: weights.len() / 2 - 1, fir: Fir::new(&weights, most) }
    }

    fn run(&mut self, from: &[Pair], to: &mut [Pair]) {
        self.fir.take(from.iter().copied());
        let past = self.fir.newest(from.len(), self.middle);
        let mut sums = [[0.0; 2]; 2 * PIECE];
        let sums = &mut sums[..from.len()];
        self.fir.sum_onto(sums);
        for (pair, (sum, frame)) in to.as_chunks_mut::<2>().0.iter_mut().zip(sums.iter().zip(past)) {
            *pair = [*sum, *frame];
        }
    }
}

/// Half the rate: every second sum alone is computed, from frames at even and at odd places.
#[derive(Debug, Clone)]
struct Halving {
    even: Fir,
    odd: Fir,
}

impl Halving {
    /// * `most` – frames that come out at a time at most.
    fn new(weights: &[f64], most: usize) -> Self {
        // The newest frame stands at an odd place.
        let of = |age: usize| {
            let mut part: Vec<f64> = weights.iter().rev().skip(age).step_by(2).copied().collect();
            part.reverse();
            Fir::new(&part, most)
        };
        Halving { odd: of(0), even: of(1) }
    }

    fn run(&mut self, from: &[Pair], to: &mut [Pair]) {
        let pairs = from.as_chunks::<2>().0;
        self.even.take(pairs.iter().map(|[even, _]| *even));
        self.odd.take(pairs.iter().map(|[_, odd]| *odd));
        to.fill([0.0; 2]);
        self.even.sum_onto(to);
        self.odd.sum_onto(to);
    }
}

/// A curve at work on both sides.
#[derive(Debug, Clone)]
struct Shaper {
    up: [Doubling; 2],
    down: [Halving; 2],
    /// The newest frame at four times the rate.
    last: Pair,
}

impl Shaper {
    fn new() -> Self {
        let [first, second, third, fourth] = TAPS;
        Shaper {
            up: [Doubling::new(first, PIECE), Doubling::new(second, 2 * PIECE)],
            down: [
                Halving::new(&low_pass(third, CORNERS[0], true), 2 * PIECE),
                Halving::new(&low_pass(fourth, CORNERS[1], false), PIECE),
            ],
            last: [0.0; 2],
        }
    }

    /// Takes at most [`PIECE`] frames through a curve, [`LATENCY`] frames late.
    ///
    /// * `curve` – takes the last frame before, and frames at four times the rate to their means over the curve.
    #[inline]
    fn run(&mut self, frames: &mut [Frame], curve: impl FnOnce(Pair, &mut [Pair])) {
        let count = frames.len();
        let (mut once, mut twice, mut four) = ([[0.0; 2]; PIECE], [[0.0; 2]; 2 * PIECE], [[0.0; 2]; 4 * PIECE]);
        let (once, twice, four) = (&mut once[..count], &mut twice[..2 * count], &mut four[..4 * count]);
        once.iter_mut().zip(frames.iter()).for_each(|(to, frame)| *to = narrow(*frame));
        self.up[0].run(once, twice);
        self.up[1].run(twice, four);
        let last = four.last().copied().unwrap_or(self.last);
        curve(self.last, four);
        self.last = last;
        self.down[0].run(four, twice);
        self.down[1].run(twice, once);
        frames.iter_mut().zip(once).for_each(|(to, pair)| *to = wide(*pair));
    }

    /// The same through one curve for all frames.
    fn run_steady(&mut self, frames: &mut [Frame], hardness: f64) {
        if hardness == 0.0 {
            self.run(frames, |last, four| means(last, four, |_| 0.0));
        } else {
            self.run(frames, |last, four| means(last, four, |_| hardness as f32));
        }
    }

    fn reset(&mut self) {
        self.up.iter_mut().for_each(|s| s.fir.reset());
        self.down.iter_mut().flat_map(|s| [&mut s.even, &mut s.odd]).for_each(Fir::reset);
        self.last = [0.0; 2];
    }
}

/// How a curve is driven.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Amounts {
    /// Into the curve, and out of it again.
    pub drive_db: f64,
    /// 0 for the soft curve to 1 for straight clipping.
    pub hardness: f64,
}

/// Settings of a processor that is a driven curve.
pub trait Driven: Kind {
    fn amounts(&self) -> Amounts;
}

/// The level in dBFS that a steady one comes out at.
pub fn steady_db(settings: &impl Driven, level_dbfs: f64) -> f64 {
    let Amounts { drive_db, hardness } = settings.amounts();
    let x = db_to_gain(level_dbfs + drive_db);
    let soft = x / libm::sqrt(1.0 + x * x);
    gain_to_db(soft + hardness * (x.min(1.0) - soft)) - drive_db
}

/// A driven curve at work.
#[derive(Debug, Clone)]
pub struct State {
    /// Drive in dB, hardness.
    amounts: Ramp<2>,
    shaper: Shaper,
}

fn targets(settings: &impl Driven) -> [f64; 2] {
    let Amounts { drive_db, hardness } = settings.amounts();
    [drive_db, hardness]
}

impl<S: Driven<Course = S> + Words> Unit<S> for State {
    fn new(settings: &S, _place: Place) -> Self {
        State { amounts: Ramp::at(targets(settings)), shaper: Shaper::new() }
    }

    fn set(&mut self, settings: &S, place: Place) {
        self.amounts.go_to(targets(settings), place.sample_rate);
    }

    fn process(&mut self, frames: &mut [Frame], _key: Option<&[Frame]>) {
        for piece in frames.chunks_mut(PIECE) {
            if self.amounts.moves() {
                let mut amounts = [[0.0; 2]; PIECE];
                for (amounts, frame) in amounts.iter_mut().zip(piece.iter_mut()) {
                    let [drive_db, hardness] = self.amounts.step();
                    *amounts = [db_to_gain(drive_db), hardness];
                    *frame = frame.map(|x| x * amounts[0]);
                }
                self.shaper.run(piece, |last, four| means(last, four, |n| amounts[n / 4][1] as f32));
                for (frame, [drive, _]) in piece.iter_mut().zip(amounts) {
                    *frame = frame.map(|x| x / drive);
                }
            } else {
                let [drive_db, hardness] = self.amounts.target();
                let drive = db_to_gain(drive_db);
                piece.iter_mut().for_each(|frame| *frame = frame.map(|x| x * drive));
                self.shaper.run_steady(piece, hardness);
                piece.iter_mut().for_each(|frame| *frame = frame.map(|x| x / drive));
            }
        }
    }

    fn feed(&mut self, frames: &[Frame], gain: f64) {
        let [drive_db, hardness] = self.amounts.now();
        let drive = db_to_gain(drive_db);
        for frames in frames.chunks(PIECE) {
            let mut piece = [[0.0; 2]; PIECE];
            let piece = &mut piece[..frames.len()];
            piece.iter_mut().zip(frames).for_each(|(to, f)| *to = f.map(|x| x * gain * drive));
            self.shaper.run_steady(piece, hardness);
        }
    }

    fn memory(&self) -> usize {
        REACH
    }

    fn rests(&self, silent: usize) -> bool {
        silent >= REACH && !self.amounts.moves()
    }

    fn reset(&mut self) {
        self.shaper.reset();
    }
}
