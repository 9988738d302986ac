//! Curves without memory at four times the rate, with antiderivative anti-aliasing (Parker, Zavalishin and Le Bivic,
//! Reducing the Aliasing of Nonlinear Waveshaping Using Continuous-Time Convolution, DAFx 2016).

use crate::units::Frame;
use std::f64::consts::{LN_2, PI};

/// Samples of the curve for each of the sound.
const TIMES: usize = 4;
/// Half the length of the filters in samples of the sound; both together delay by twice this.
const HALF: usize = 32;
/// Weights of the filter before the curve, the middle one at `HALF * TIMES`.
const UP_TAPS: usize = 2 * HALF * TIMES + 1;
/// Weights of the filter behind it: one less, since the antiderivative itself delays by half a sample.
const DOWN_TAPS: usize = 2 * HALF * TIMES;
/// Corner of both, in parts of the sound's rate: half-way between 20 kHz, which passes, and 25 kHz, which does not,
/// at 48 kHz.
const CORNER: f64 = 0.469;
/// Shape of the Kaiser window: 100 dB.
const BETA: f64 = 10.06;
/// Steps smaller than this are taken at their middle.
const SMALL: f64 = 1e-5;

/// Frames by which the sound comes out later.
pub const LATENCY: usize = 2 * HALF;

/// Soft for 0, hard for 1, anything between: tanh and straight clipping, both at 1.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Blend(pub f64);

impl Blend {
    fn value(self, x: f64) -> f64 {
        (1.0 - self.0) * libm::tanh(x) + self.0 * x.clamp(-1.0, 1.0)
    }

    fn antiderivative(self, x: f64) -> f64 {
        let a = x.abs();
        let soft = if self.0 < 1.0 { a + libm::log1p(libm::exp(-2.0 * a)) - LN_2 } else { 0.0 };
        let hard = if a <= 1.0 { x * x / 2.0 } else { a - 0.5 };
        (1.0 - self.0) * soft + self.0 * hard
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

/// Slices of the integral over the passband.
const SLICES: usize = 256;

/// A low-pass by window, its weights adding up to 1. `lift` makes up for what the antiderivative, a mean of two
/// neighbours where the curve is straight, takes away towards the top.
fn low_pass(taps: usize, lift: bool) -> Vec<f64> {
    let middle = (taps - 1) as f64 / 2.0;
    let corner = PI * 2.0 * CORNER / TIMES as f64;
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

/// Sum of products, always in the same order, four at a time so that the compiler can use wide registers.
#[inline]
fn dot(a: &[f64], b: &[f64]) -> f64 {
    let mut sums = [0.0; 4];
    let (wide_a, wide_b) = (a.chunks_exact(4), b.chunks_exact(4));
    let rest: f64 = wide_a.remainder().iter().zip(wide_b.remainder()).map(|(x, y)| x * y).sum();
    for (x, y) in wide_a.zip(wide_b) {
        for (sum, (x, y)) in sums.iter_mut().zip(x.iter().zip(y)) {
            *sum += x * y;
        }
    }
    (sums[0] + sums[1]) + (sums[2] + sums[3]) + rest
}

/// A curve at work on both sides.
#[derive(Debug, Clone)]
pub struct Shaper {
    /// The weights of each phase, in the order of the sound: oldest first.
    up: [Vec<f64>; TIMES],
    down: Vec<f64>,
    /// The newest samples of the sound, the newest last, written twice so that they lie in one piece.
    sound: [Vec<f64>; 2],
    /// The newest samples of the curve, the same way.
    shaped: [Vec<f64>; 2],
    sound_at: usize,
    shaped_at: usize,
    last: Frame,
    /// The antiderivative there, and the curve that it is of.
    integral: Frame,
    curve: Blend,
}

/// Samples of the sound that the filter before the curve needs.
const SOUND: usize = 2 * HALF + 1;

impl Shaper {
    pub fn new() -> Self {
        let weights = low_pass(UP_TAPS, false);
        // Weight n belongs to the sample n / 4 back; what is missing at an end weighs nothing.
        let of_phase = |phase: usize| {
            let weight = |back: usize| weights.get(back * TIMES + phase).copied().unwrap_or(0.0) * TIMES as f64;
            (0..SOUND).rev().map(weight).collect()
        };
        Shaper {
            up: [of_phase(0), of_phase(1), of_phase(2), of_phase(3)],
            down: low_pass(DOWN_TAPS, true),
            sound: [vec![0.0; 2 * SOUND], vec![0.0; 2 * SOUND]],
            shaped: [vec![0.0; 2 * DOWN_TAPS], vec![0.0; 2 * DOWN_TAPS]],
            sound_at: 0,
            shaped_at: 0,
            last: [0.0; 2],
            integral: [0.0; 2],
            curve: Blend(0.0),
        }
    }

    /// The next frame through a curve, [`LATENCY`] frames late. `gain` goes before the curve.
    pub fn step(&mut self, frame: Frame, gain: f64, curve: Blend) -> Frame {
        if curve != self.curve {
            self.curve = curve;
            self.integral = self.last.map(|x| curve.antiderivative(x));
        }
        let mut out = [0.0; 2];
        for side in 0..2 {
            out[side] = self.step_side(side, frame[side] * gain);
        }
        self.sound_at = (self.sound_at + 1) % SOUND;
        self.shaped_at = (self.shaped_at + TIMES) % DOWN_TAPS;
        out
    }

    fn step_side(&mut self, side: usize, x: f64) -> f64 {
        let curve = self.curve;
        let sound = &mut self.sound[side];
        sound[self.sound_at] = x;
        sound[self.sound_at + SOUND] = x;
        // From the oldest to the newest.
        let newest = &sound[self.sound_at + 1..self.sound_at + 1 + SOUND];
        let shaped = &mut self.shaped[side];
        for phase in 0..TIMES {
            let raised = dot(newest, &self.up[phase]);
            let last = self.last[side];
            let step = raised - last;
            let integral = curve.antiderivative(raised);
            let value = if step.abs() < SMALL {
                curve.value(0.5 * (raised + last))
            } else {
                (integral - self.integral[side]) / step
            };
            (self.last[side], self.integral[side]) = (raised, integral);
            let at = (self.shaped_at + phase) % DOWN_TAPS;
            shaped[at] = value;
            shaped[at + DOWN_TAPS] = value;
        }
        // The newest of the curve stands last in the piece behind it.
        let end = self.shaped_at + 1 + DOWN_TAPS;
        // The weights are the same from both ends.
        dot(&shaped[end - DOWN_TAPS..end], &self.down)
    }

    pub fn reset(&mut self) {
        self.sound.iter_mut().for_each(|s| s.fill(0.0));
        self.shaped.iter_mut().for_each(|s| s.fill(0.0));
        self.last = [0.0; 2];
        self.integral = self.last.map(|x| self.curve.antiderivative(x));
    }
}

impl Default for Shaper {
    fn default() -> Self {
        Shaper::new()
    }
}
