//! Second-order sections whose magnitude is that of the analogue filter up to half the rate: poles by impulse
//! invariance, zeros from the magnitudes at 0 Hz, at half the rate and at the filter's own frequency (after Vicanek,
//! Matched Second Order Digital Filters, 2016).

use lane_units::{Frame, Reader, Words};
use std::f64::consts::PI;

/// States below this are silence; about -300 dBFS.
const SILENCE: f64 = 1e-15;

/// An analogue filter `(n2 s² + n1 s + n0) / (s² + d1 s + d0)` around 1 rad/s.
#[derive(Debug, Clone, Copy)]
pub struct Analogue {
    /// `n2`, `n1`, `n0`.
    pub n: [f64; 3],
    /// `d1`, `d0`.
    pub d: [f64; 2],
}

impl Analogue {
    /// The square of the magnitude at a frequency in parts of the filter's own.
    pub fn power(&self, omega: f64) -> f64 {
        let square = |even: f64, odd: f64| even * even + odd * odd;
        let w2 = omega * omega;
        square(self.n[2] - self.n[0] * w2, self.n[1] * omega) / square(self.d[1] - w2, self.d[0] * omega)
    }
}

/// Radians a sample from which on more than one frequency to match at is tried: 4 kHz at 48 kHz.
const TOP: f64 = PI / 6.0;

/// Poles of `s² + d1 s + d0` by impulse invariance, as coefficients.
fn poles([d1, d0]: [f64; 2], w0: f64) -> (f64, f64) {
    let own = libm::sqrt(d0);
    let (wp, damping) = ((w0 * own).min(0.99 * PI), d1 / (2.0 * own));
    let radius = libm::exp(-damping * wp);
    let a1 = if damping <= 1.0 {
        -2.0 * radius * libm::cos(libm::sqrt(1.0 - damping * damping) * wp)
    } else {
        -2.0 * radius * libm::cosh(libm::sqrt(damping * damping - 1.0) * wp)
    };
    (a1, radius * radius)
}

/// Coefficients of one section.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Section {
    b: [f64; 3],
    a: [f64; 2],
}

/// The transposed form with the newest output taken out of its states, so that a state waits for one product alone.
#[derive(Debug, Clone, Copy)]
pub struct Runner {
    b0: f64,
    c: [f64; 2],
    a: [f64; 2],
    memory: [Frame; 2],
}

impl Runner {
    /// At rest.
    pub fn new(Section { b, a }: &Section) -> Self {
        Runner { b0: b[0], c: [b[1] - a[0] * b[0], b[2] - a[1] * b[0]], a: *a, memory: [[0.0; 2]; 2] }
    }

    /// Whether it remembers nothing.
    pub fn rests(&self) -> bool {
        self.memory == [[0.0; 2]; 2]
    }

    /// Begins with what another one remembers.
    pub fn take_over(&mut self, other: &Runner) {
        self.memory = other.memory;
    }

    /// The next frame. Fit for the audio thread.
    #[inline]
    pub fn step(&mut self, frame: Frame) -> Frame {
        let Runner { b0, c, a, memory: [first, second] } = self;
        let mut out = [0.0; 2];
        for side in 0..2 {
            let x = frame[side];
            let next = c[0] * x + second[side] - a[0] * first[side];
            let after = c[1] * x - a[1] * first[side];
            out[side] = *b0 * x + first[side];
            (first[side], second[side]) = (next, after);
        }
        out
    }

    /// Lets go of what is inaudible. It takes time, so it is done now and then, always behind the same frames.
    pub fn settle(&mut self) {
        let [first, second] = &mut self.memory;
        for (first, second) in first.iter_mut().zip(second) {
            if first.abs() < SILENCE && second.abs() < SILENCE {
                (*first, *second) = (0.0, 0.0);
            }
        }
    }

    /// Forgets what came before.
    pub fn reset(&mut self) {
        self.memory = [[0.0; 2]; 2];
    }
}

/// Sections computed side by side: while one waits for its own last frame, others go on.
const ABREAST: usize = 4;

/// Sections one after the other, in place.
pub fn run_all(sections: &mut [Runner], frames: &mut [Frame]) {
    fn run<const N: usize>(sections: &mut [Runner], frames: &mut [Frame]) {
        let Some(kept) = sections.first_chunk_mut::<N>() else { return };
        let mut group = *kept;
        for frame in frames {
            *frame = group.iter_mut().fold(*frame, |frame, section| section.step(frame));
        }
        *kept = group;
    }
    for group in sections.chunks_mut(ABREAST) {
        match group.len() {
            4 => run::<4>(group, frames),
            3 => run::<3>(group, frames),
            2 => run::<2>(group, frames),
            _ => run::<1>(group, frames),
        }
    }
}

impl Words for Section {
    fn write(&self, words: &mut Vec<f64>) {
        words.extend(self.b.iter().chain(&self.a));
    }

    fn read(words: &mut Reader) -> Option<Self> {
        let [b0, b1, b2, a1, a2] = words.array()?;
        Some(Section { b: [b0, b1, b2], a: [a1, a2] })
    }
}

impl Section {
    /// `(b0 + b1 z⁻¹ + b2 z⁻²) / (1 + a1 z⁻¹ + a2 z⁻²)`.
    pub fn of(b: [f64; 3], a: [f64; 2]) -> Self {
        Section { b, a }
    }

    /// The digital twin of an analogue filter at a frequency in Hz, kept under 0.49 of the rate.
    pub fn matched(analogue: &Analogue, freq_hz: f64, sample_rate: u32) -> Self {
        let rate = f64::from(sample_rate);
        let w0 = 2.0 * PI * freq_hz.min(0.49 * rate) / rate;
        if w0 < TOP {
            return Section::matched_at(analogue, analogue.d, w0, w0);
        }
        // Where the filter lies high, other poles and another frequency to match at serve the whole curve better.
        let worst = |section: &Section| {
            let off = |k: u32| {
                let w = 0.7 * PI * f64::from(k) / 24.0;
                (libm::log(section.magnitude(w / (2.0 * PI))) - 0.5 * libm::log(analogue.power(w / w0))).abs()
            };
            (1..=24).map(off).fold(0.0, f64::max)
        };
        let mut best = Section::matched_at(analogue, analogue.d, w0, w0.min(0.9 * PI));
        let mut least = worst(&best);
        for damping in [0.7, 0.8, 0.9, 1.0, 1.1] {
            for pitch in [0.92, 0.96, 1.0, 1.04] {
                for part in [1.0, 0.9, 0.8, 0.65] {
                    let d = [analogue.d[0] * damping * pitch, analogue.d[1] * pitch * pitch];
                    let made = Section::matched_at(analogue, d, w0, (part * w0).min(0.9 * PI));
                    let off = worst(&made);
                    if off < least {
                        (best, least) = (made, off);
                    }
                }
            }
        }
        best
    }

    /// Poles of `d` at `w0`, magnitudes right at 0, at half the rate and at `middle`, all in radians a sample.
    fn matched_at(analogue: &Analogue, d: [f64; 2], w0: f64, middle: f64) -> Self {
        let (a1, a2) = poles(d, w0);
        let below = [(1.0 + a1 + a2) * (1.0 + a1 + a2), (1.0 - a1 + a2) * (1.0 - a1 + a2), -4.0 * a2];
        let power = |w: f64| analogue.power(w / w0);
        let (at_zero, at_half) = (power(0.0) * below[0], power(PI) * below[1]);
        let half_sine = libm::sin(middle / 2.0);
        let (phi1, phi0) = (half_sine * half_sine, 1.0 - half_sine * half_sine);
        let phi2 = 4.0 * phi0 * phi1;
        let wanted = power(middle) * (below[0] * phi0 + below[1] * phi1 + below[2] * phi2);
        let cross = (wanted - at_zero * phi0 - at_half * phi1) / phi2;
        let (root_zero, root_half) = (libm::sqrt(at_zero), libm::sqrt(at_half));
        let sum = 0.5 * (root_zero + root_half);
        let b0 = 0.5 * (sum + libm::sqrt((sum * sum + cross).max(0.0)));
        let b1 = 0.5 * (root_zero - root_half);
        let b2 = if b0 == 0.0 { 0.0 } else { -cross / (4.0 * b0) };
        Section { b: [b0, b1, b2], a: [a1, a2] }
    }

    /// A frequency taken out: zeros on the unit circle, 0 dB at 0 Hz.
    pub fn notch(freq_hz: f64, q: f64, sample_rate: u32) -> Self {
        let rate = f64::from(sample_rate);
        let w0 = 2.0 * PI * freq_hz.min(0.49 * rate) / rate;
        let (a1, a2) = poles([1.0 / q, 1.0], w0);
        let turn = -2.0 * libm::cos(w0);
        let gain = (1.0 + a1 + a2) / (2.0 + turn);
        Section { b: [gain, gain * turn, gain], a: [a1, a2] }
    }

    /// What takes away what this one adds; its zeros must lie inside the unit circle, as they do for bells and shelves.
    pub fn inverse(&self) -> Self {
        let [b0, b1, b2] = self.b;
        Section { b: [1.0 / b0, self.a[0] / b0, self.a[1] / b0], a: [b1 / b0, b2 / b0] }
    }

    /// A first-order section: low-pass `1 / (s + 1)`, or high-pass `s / (s + 1)`.
    pub fn first_order(high: bool, freq_hz: f64, sample_rate: u32) -> Self {
        let rate = f64::from(sample_rate);
        let w0 = 2.0 * PI * freq_hz.min(0.49 * rate) / rate;
        let a1 = -libm::exp(-w0);
        let ratio = PI / w0;
        let (zero, half) = if high {
            (0.0, ratio / libm::sqrt(1.0 + ratio * ratio))
        } else {
            (1.0, 1.0 / libm::sqrt(1.0 + ratio * ratio))
        };
        let (sum, difference) = (zero * (1.0 + a1), half * (1.0 - a1));
        Section { b: [0.5 * (sum + difference), 0.5 * (sum - difference), 0.0], a: [a1, 0.0] }
    }

    /// The magnitude at a frequency in parts of the rate.
    pub fn magnitude(&self, turns: f64) -> f64 {
        let w = 2.0 * PI * turns;
        let part = |c0: f64, c1: f64, c2: f64| {
            let re = c0 + c1 * libm::cos(w) + c2 * libm::cos(2.0 * w);
            let im = c1 * libm::sin(w) + c2 * libm::sin(2.0 * w);
            libm::sqrt(re * re + im * im)
        };
        part(self.b[0], self.b[1], self.b[2]) / part(1.0, self.a[0], self.a[1])
    }

    /// Frames until its ringing has fallen by 100 dB.
    pub fn tail(&self) -> usize {
        // The slower pole decides: by radius where they are a pair, else the larger of two real ones.
        let [a1, a2] = self.a;
        let apart = a1 * a1 - 4.0 * a2;
        let radius = if apart < 0.0 { libm::sqrt(a2) } else { (a1.abs() + libm::sqrt(apart)) / 2.0 };
        if radius <= 0.0 { 2 } else { libm::ceil(11.52 / -libm::log(radius.min(0.999_999))) as usize }
    }
}
