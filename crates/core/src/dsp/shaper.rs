//! Curves without memory at four times the rate, with antiderivative anti-aliasing (Parker, Zavalishin and Le Bivic,
//! Reducing the Aliasing of Nonlinear Waveshaping Using Continuous-Time Convolution, DAFx 2016).
//!
//! The rate is doubled twice by half-band filters, every second weight of which is zero, and halved twice again.

use super::{Kind, Place, Ramp, Unit};
use crate::units::{Frame, db_to_gain, gain_to_db};
use std::f64::consts::PI;

/// Weights of the first doubling, of the second, of the first halving and of the last.
const TAPS: [usize; 4] = [79, 27, 28, 123];
/// Corners of the halvings in parts of the rate that they work at. The last lies half-way between 20 kHz, which
/// passes, and 25 kHz, which does not, at 48 kHz.
const CORNERS: [f64; 2] = [0.25, 0.234_375];
/// Shape of the Kaiser window: 100 dB.
const BETA: f64 = 10.06;
/// Slices of the integral over the passband.
const SLICES: usize = 256;

/// Frames by which the sound comes out later: what the filters take at four times the rate, with half a sample of
/// the antiderivative, less the three samples that come with the newest frame.
pub const LATENCY: usize = 56;

/// Soft for 0, hard for 1, anything between: `x / sqrt(1 + x²)` and straight clipping, both held at 1.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Blend(pub f64);

impl Blend {
    /// The mean of the curve between two points, from its antiderivative. For the soft curve the difference of the
    /// antiderivatives over the step is written as a quotient that needs no step.
    #[inline]
    fn mean(self, from: Point, to: Point) -> f64 {
        let soft = (from.x + to.x) / (from.soft + to.soft);
        if self.0 == 0.0 {
            return soft;
        }
        let hard = if from.x.abs() <= 1.0 && to.x.abs() <= 1.0 {
            0.5 * (from.x + to.x)
        } else {
            let step = to.x - from.x;
            if step.abs() < SMALL {
                (0.5 * (from.x + to.x)).clamp(-1.0, 1.0)
            } else {
                (hard(to.x) - hard(from.x)) / step
            }
        };
        soft + self.0 * (hard - soft)
    }
}

/// Steps smaller than this are taken at their middle.
const SMALL: f64 = 1e-5;

/// The antiderivative of straight clipping.
#[inline]
fn hard(x: f64) -> f64 {
    let a = x.abs();
    if a <= 1.0 { x * x / 2.0 } else { a - 0.5 }
}

/// A point on the curve with the soft antiderivative there.
#[derive(Debug, Clone, Copy)]
struct Point {
    x: f64,
    soft: f64,
}

impl Point {
    const ZERO: Point = Point { x: 0.0, soft: 1.0 };

    #[inline]
    fn at(x: f64) -> Self {
        Point { x, soft: libm::sqrt(1.0 + x * x) }
    }
}

fn bessel(x: f64) -> f64 {
    let (mut sum, mut term, mut k) = (1.0, 1.0, 1.0);
    while term > 1e-18 * sum {
        term *= (x / (2.0 * k)) * (x / (2.0 * k));
        sum += term;
        k += 1.0;
    }
    sum
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
        sum * bessel(BETA * libm::sqrt((1.0 - off * off).max(0.0)))
    };
    let weights: Vec<f64> = (0..taps).map(weight).collect();
    let sum: f64 = weights.iter().sum();
    weights.into_iter().map(|w| w / sum).collect()
}

/// Frames of the past under some weights that are the same from both ends.
#[derive(Debug, Clone)]
struct Fir {
    weights: Vec<f64>,
    /// The newest first from `at`, written twice so that they lie in one piece.
    past: Vec<Frame>,
    at: usize,
}

impl Fir {
    fn new(weights: Vec<f64>) -> Self {
        let past = vec![[0.0; 2]; 2 * weights.len()];
        Fir { weights, past, at: 0 }
    }

    #[inline]
    fn push(&mut self, frame: Frame) {
        let length = self.weights.len();
        self.at = if self.at == 0 { length - 1 } else { self.at - 1 };
        self.past[self.at] = frame;
        self.past[self.at + length] = frame;
    }

    /// Sum of products, always in the same order, four frames at a time so that they do not wait for each other.
    #[inline]
    fn sum(&self) -> Frame {
        let past = &self.past[self.at..self.at + self.weights.len()];
        let mut sums = [[0.0; 2]; 4];
        let (frames, weights) = (past.chunks_exact(4), self.weights.chunks_exact(4));
        let mut rest = [0.0; 2];
        for ([l, r], w) in frames.remainder().iter().zip(weights.remainder()) {
            rest = [rest[0] + l * w, rest[1] + r * w];
        }
        for (frames, weights) in frames.zip(weights) {
            for (sum, ([l, r], w)) in sums.iter_mut().zip(frames.iter().zip(weights)) {
                sum[0] += l * w;
                sum[1] += r * w;
            }
        }
        let side = |s: usize| (sums[0][s] + sums[1][s]) + (sums[2][s] + sums[3][s]) + rest[s];
        [side(0), side(1)]
    }

    fn back(&self, age: usize) -> Frame {
        self.past[self.at + age]
    }

    fn reset(&mut self) {
        self.past.fill([0.0; 2]);
    }
}

/// Twice the rate: of the two samples of a frame, one is a frame of the past and one a sum.
#[derive(Debug, Clone)]
struct Doubling(Fir);

impl Doubling {
    fn new(taps: usize) -> Self {
        let weights = low_pass(taps, 0.25, false);
        // The middle one weighs a half, its neighbours at even distances nothing; what is left stands at even places.
        let sum: f64 = weights.iter().step_by(2).sum();
        Doubling(Fir::new(weights.into_iter().step_by(2).map(|w| w / sum).collect()))
    }

    #[inline]
    fn step(&mut self, frame: Frame) -> [Frame; 2] {
        self.0.push(frame);
        [self.0.sum(), self.0.back(self.0.weights.len() / 2 - 1)]
    }
}

/// A curve at work on both sides.
#[derive(Debug, Clone)]
struct Shaper {
    up: [Doubling; 2],
    down: [Fir; 2],
    last: [Point; 2],
}

impl Shaper {
    fn new() -> Self {
        let [first, second, third, fourth] = TAPS;
        Shaper {
            up: [Doubling::new(first), Doubling::new(second)],
            down: [Fir::new(low_pass(third, CORNERS[0], true)), Fir::new(low_pass(fourth, CORNERS[1], false))],
            last: [Point::ZERO; 2],
        }
    }

    /// The next frame through a curve, [`LATENCY`] frames late.
    #[inline]
    fn step(&mut self, frame: Frame, curve: Blend) -> Frame {
        for twice in self.up[0].step(frame) {
            for four in self.up[1].step(twice) {
                let mut shaped = [0.0; 2];
                for side in 0..2 {
                    let point = Point::at(four[side]);
                    shaped[side] = curve.mean(self.last[side], point);
                    self.last[side] = point;
                }
                self.down[0].push(shaped);
            }
            self.down[1].push(self.down[0].sum());
        }
        self.down[1].sum()
    }

    fn reset(&mut self) {
        self.up.iter_mut().for_each(|s| s.0.reset());
        self.down.iter_mut().for_each(Fir::reset);
        self.last = [Point::ZERO; 2];
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

impl<S: Driven> Unit<S> for State {
    fn new(settings: &S, _place: Place) -> Self {
        State { amounts: Ramp::at(targets(settings)), shaper: Shaper::new() }
    }

    fn set(&mut self, settings: &S, place: Place) {
        self.amounts.go_to(targets(settings), place.sample_rate);
    }

    fn process(&mut self, frames: &mut [Frame], _key: Option<&[Frame]>) {
        let [rest_db, _] = self.amounts.target();
        let rest = db_to_gain(rest_db);
        for frame in frames {
            let moves = self.amounts.moves();
            let [drive_db, hardness] = self.amounts.step();
            let drive = if moves { db_to_gain(drive_db) } else { rest };
            let driven = [frame[0] * drive, frame[1] * drive];
            *frame = self.shaper.step(driven, Blend(hardness)).map(|x| x / drive);
        }
    }

    fn feed(&mut self, frame: Frame) {
        let [drive_db, hardness] = self.amounts.target();
        self.shaper.step(frame.map(|x| x * db_to_gain(drive_db)), Blend(hardness));
    }

    fn reset(&mut self) {
        self.shaper.reset();
    }
}
