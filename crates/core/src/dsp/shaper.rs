//! Curves without memory at four times the rate, with antiderivative anti-aliasing (Parker, Zavalishin and Le Bivic,
//! Reducing the Aliasing of Nonlinear Waveshaping Using Continuous-Time Convolution, DAFx 2016).
//!
//! The rate is doubled twice by half-band filters, every second weight of which is zero, and halved twice again.

use super::{Kind, Place, Ramp, Unit};
use crate::units::{Frame, db_to_gain, gain_to_db};
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

/// Soft for 0, hard for 1, anything between: `x / sqrt(1 + x²)` and straight clipping, both held at 1.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Blend(pub f64);

impl Blend {
    /// The mean of the curve between two points, from its antiderivative.
    #[inline]
    fn mean(self, from: Point, to: Point) -> f64 {
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
        let soft = soft(from, to);
        soft + self.0 * (hard - soft)
    }
}

/// The mean of the soft curve between two points: the difference of its antiderivatives over the step, written as a
/// quotient that needs no step.
#[inline]
fn soft(from: Point, to: Point) -> f64 {
    (from.x + to.x) / (from.soft + to.soft)
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
        // The root is one of the operations that are rounded the same everywhere.
        Point { x, soft: (1.0 + x * x).sqrt() }
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

/// Frames computed at a time at most.
const PIECE: usize = 32;
/// Sums that are computed side by side, so that none waits for another, and weights that are taken at a time, so that
/// a frame is read once for all of them.
const ABREAST: usize = 16;
const AT_A_TIME: usize = 4;

/// A frame on its way through the filters, in 32 bits: that rounds 120 dB and more under the sound, whatever its level,
/// and takes half the time.
type Pair = [f32; 2];
/// What is smaller than that is silence; about -480 dBFS.
const SILENCE: f64 = 1e-24;

#[inline]
fn narrow(frame: Frame) -> Pair {
    frame.map(|x| if x.abs() < SILENCE { 0.0 } else { x as f32 })
}

#[inline]
fn wide(pair: Pair) -> Frame {
    pair.map(f64::from)
}

/// Weights over a stretch of frames, the past before the new.
#[derive(Debug, Clone)]
struct Fir {
    /// For the oldest frame first; what is missing of the first few is zero.
    weights: Vec<[f32; AT_A_TIME]>,
    stretch: Vec<Pair>,
    /// Where the newest frame ends.
    end: usize,
}

impl Fir {
    /// * `most` – frames that are taken at a time at most.
    fn new(weights: &[f64], most: usize) -> Self {
        let groups = weights.len().div_ceil(AT_A_TIME);
        let mut whole = vec![[0.0; AT_A_TIME]; groups];
        for (place, weight) in whole.as_flattened_mut().iter_mut().rev().zip(weights.iter().rev()) {
            *place = *weight as f32;
        }
        let past = AT_A_TIME * groups - 1;
        Fir { stretch: vec![[0.0; 2]; past + 2 * most], end: past, weights: whole }
    }

    /// Frames that the weights reach back to.
    fn past(&self) -> usize {
        AT_A_TIME * self.weights.len() - 1
    }

    fn take(&mut self, frames: impl ExactSizeIterator<Item = Pair>) {
        let count = frames.len();
        if self.end + count > self.stretch.len() {
            let past = self.past();
            self.stretch.copy_within(self.end - past..self.end, 0);
            self.end = past;
        }
        for (place, frame) in self.stretch[self.end..].iter_mut().zip(frames) {
            *place = frame;
        }
        self.end += count;
    }

    /// The newest frames with so many before them.
    fn newest(&self, count: usize, past: usize) -> &[Pair] {
        &self.stretch[self.end - count - past..self.end]
    }

    /// Adds to what stands in `to` the sums that end at the newest frames. Each is added up from the oldest frame to the
    /// newest, so that it is the same in whatever company it is computed.
    #[inline]
    fn sum_onto<'a>(&self, mut to: impl ExactSizeIterator<Item = &'a mut Pair>) {
        const WINDOW: usize = 2 * (ABREAST + AT_A_TIME - 1);
        let count = to.len();
        let from = self.newest(count, self.past());
        let mut done = 0;
        while count - done >= ABREAST {
            let from = from[done..].as_flattened();
            let mut sums = [0.0; 2 * ABREAST];
            for (n, weights) in self.weights.iter().enumerate() {
                let Some(window) = from[2 * AT_A_TIME * n..].first_chunk::<WINDOW>() else { break };
                for (k, w) in weights.iter().enumerate() {
                    for (sum, x) in sums.iter_mut().zip(&window[2 * k..]) {
                        *sum += x * w;
                    }
                }
            }
            for ([l, r], to) in sums.as_chunks().0.iter().zip(&mut to) {
                *to = [to[0] + l, to[1] + r];
            }
            done += ABREAST;
        }
        for (n, to) in (done..count).zip(to) {
            let mut sum = [0.0; 2];
            for ([l, r], w) in from[n..].iter().zip(self.weights.as_flattened()) {
                sum = [sum[0] + l * w, sum[1] + r * w];
            }
            *to = [to[0] + sum[0], to[1] + sum[1]];
        }
    }

    fn reset(&mut self) {
        self.stretch.fill([0.0; 2]);
    }
}

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
        for (pair, frame) in to.chunks_exact_mut(2).zip(past) {
            (pair[0], pair[1]) = ([0.0; 2], *frame);
        }
        self.fir.sum_onto(to.iter_mut().step_by(2));
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
        self.even.sum_onto(to.iter_mut());
        self.odd.sum_onto(to.iter_mut());
    }
}

/// A curve at work on both sides.
#[derive(Debug, Clone)]
struct Shaper {
    up: [Doubling; 2],
    down: [Halving; 2],
    last: [Point; 2],
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
            last: [Point::ZERO; 2],
        }
    }

    /// Takes at most [`PIECE`] frames through a curve, [`LATENCY`] frames late.
    ///
    /// * `mean` – of the curve between two points, at a frame.
    #[inline]
    fn run(&mut self, frames: &mut [Frame], mean: impl Fn(usize, Point, Point) -> f64) {
        let count = frames.len();
        let (mut once, mut twice, mut four) = ([[0.0; 2]; PIECE], [[0.0; 2]; 2 * PIECE], [[0.0; 2]; 4 * PIECE]);
        let (once, twice, four) = (&mut once[..count], &mut twice[..2 * count], &mut four[..4 * count]);
        once.iter_mut().zip(frames.iter()).for_each(|(to, frame)| *to = narrow(*frame));
        self.up[0].run(once, twice);
        self.up[1].run(twice, four);
        let mut last = self.last;
        for (n, group) in four.chunks_exact_mut(4).enumerate() {
            for frame in group {
                let points = wide(*frame).map(Point::at);
                *frame = narrow([mean(n, last[0], points[0]), mean(n, last[1], points[1])]);
                last = points;
            }
        }
        self.last = last;
        self.down[0].run(four, twice);
        self.down[1].run(twice, once);
        frames.iter_mut().zip(once).for_each(|(to, pair)| *to = wide(*pair));
    }

    /// The same through one curve for all frames.
    fn run_steady(&mut self, frames: &mut [Frame], curve: Blend) {
        if curve.0 == 0.0 {
            self.run(frames, |_, from, to| soft(from, to));
        } else {
            self.run(frames, |_, from, to| curve.mean(from, to));
        }
    }

    fn reset(&mut self) {
        self.up.iter_mut().for_each(|s| s.fir.reset());
        self.down.iter_mut().flat_map(|s| [&mut s.even, &mut s.odd]).for_each(Fir::reset);
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
        for piece in frames.chunks_mut(PIECE) {
            if self.amounts.moves() {
                let mut amounts = [[0.0; 2]; PIECE];
                for (amounts, frame) in amounts.iter_mut().zip(piece.iter_mut()) {
                    let [drive_db, hardness] = self.amounts.step();
                    *amounts = [db_to_gain(drive_db), hardness];
                    *frame = frame.map(|x| x * amounts[0]);
                }
                self.shaper.run(piece, |n, from, to| Blend(amounts[n][1]).mean(from, to));
                for (frame, [drive, _]) in piece.iter_mut().zip(amounts) {
                    *frame = frame.map(|x| x / drive);
                }
            } else {
                let [drive_db, hardness] = self.amounts.target();
                let drive = db_to_gain(drive_db);
                piece.iter_mut().for_each(|frame| *frame = frame.map(|x| x * drive));
                self.shaper.run_steady(piece, Blend(hardness));
                piece.iter_mut().for_each(|frame| *frame = frame.map(|x| x / drive));
            }
        }
    }

    fn feed(&mut self, frame: Frame) {
        let [drive_db, hardness] = self.amounts.target();
        let drive = db_to_gain(drive_db);
        self.shaper.run_steady(&mut [frame.map(|x| x * drive)], Blend(hardness));
    }

    fn reset(&mut self) {
        self.shaper.reset();
    }
}
