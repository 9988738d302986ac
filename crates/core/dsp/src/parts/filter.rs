//! Second-order state-variable filters in the trapezoidal form (Zavalishin, The Art of VA Filter Design, 2012).

use lane_units::{Frame, Reader, Words};
use std::f64::consts::{FRAC_1_SQRT_2, PI};

/// States below this are silence; about -300 dBFS.
const SILENCE: f64 = 1e-15;

/// Low-pass, band-pass and high-pass at once, of one channel.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
struct Memory {
    first: f64,
    second: f64,
}

/// A stereo filter of 12 dB per octave.
#[derive(Debug, Clone, PartialEq)]
pub struct Svf {
    a1: f64,
    a2: f64,
    a3: f64,
    k: f64,
    memory: [Memory; 2],
}

impl Words for Svf {
    fn write(&self, words: &mut Vec<f64>) {
        words.extend([self.a1, self.a2, self.a3, self.k]);
    }

    fn read(words: &mut Reader) -> Option<Self> {
        let [a1, a2, a3, k] = words.array()?;
        Some(Svf { a1, a2, a3, k, memory: [Memory::default(); 2] })
    }
}

impl Svf {
    /// Butterworth at a corner in Hz, kept under 0.49 of the rate.
    pub fn new(cutoff_hz: f64, sample_rate: u32) -> Self {
        Svf::with_q(cutoff_hz, FRAC_1_SQRT_2, sample_rate)
    }

    /// A corner in Hz, kept under 0.49 of the rate, and its quality.
    pub fn with_q(cutoff_hz: f64, q: f64, sample_rate: u32) -> Self {
        let mut filter = Svf { a1: 0.0, a2: 0.0, a3: 0.0, k: 0.0, memory: [Memory::default(); 2] };
        filter.tune(cutoff_hz, q, sample_rate);
        filter
    }

    /// Another corner; what it remembers stays.
    pub fn tune(&mut self, cutoff_hz: f64, q: f64, sample_rate: u32) {
        let rate = f64::from(sample_rate);
        let g = libm::tan(PI * cutoff_hz.min(0.49 * rate) / rate);
        self.k = 1.0 / q;
        self.a1 = 1.0 / (1.0 + g * (g + self.k));
        self.a2 = g * self.a1;
        self.a3 = g * self.a2;
    }

    /// Magnitudes of low, band and high at a frequency in Hz. The trapezoidal form is the analogue filter with its
    /// frequencies bent by the tangent.
    pub fn magnitudes(&self, hz: f64, sample_rate: u32) -> [f64; 3] {
        let g = self.a2 / self.a1;
        let w = libm::tan(PI * hz.min(0.499_9 * f64::from(sample_rate)) / f64::from(sample_rate)) / g;
        let below = libm::sqrt((1.0 - w * w) * (1.0 - w * w) + self.k * w * self.k * w);
        [1.0 / below, w / below, w * w / below]
    }

    /// Remembers what another filter does.
    pub fn take_over(&mut self, other: &Svf) {
        self.memory = other.memory;
    }

    /// Low, band and high of the next sample of a channel.
    #[inline]
    pub fn step(&mut self, side: usize, x: f64) -> [f64; 3] {
        let m = &mut self.memory[side];
        let v3 = x - m.second;
        let v1 = self.a1 * m.first + self.a2 * v3;
        let v2 = m.second + self.a2 * m.first + self.a3 * v3;
        m.first = 2.0 * v1 - m.first;
        m.second = 2.0 * v2 - m.second;
        if m.first.abs() < SILENCE && m.second.abs() < SILENCE {
            *m = Memory::default();
        }
        [v2, v1, x - self.k * v1 - v2]
    }

    /// The low-pass of the next frame.
    pub fn low(&mut self, [l, r]: Frame) -> Frame {
        [self.step(0, l)[0], self.step(1, r)[0]]
    }

    /// The high-pass of the next frame.
    pub fn high(&mut self, [l, r]: Frame) -> Frame {
        [self.step(0, l)[2], self.step(1, r)[2]]
    }

    /// Whether it remembers nothing.
    pub fn rests(&self) -> bool {
        self.memory.iter().all(|m| m.first == 0.0 && m.second == 0.0)
    }

    /// Forgets what came before.
    pub fn reset(&mut self) {
        self.memory = [Memory::default(); 2];
    }
}

/// High-pass and low-pass before a detector, each off where its corner is 0 Hz.
#[derive(Debug, Clone)]
pub struct KeyFilter {
    corners: [f64; 2],
    high_pass: Svf,
    low_pass: Svf,
    sample_rate: u32,
}

impl KeyFilter {
    /// Corners in Hz; at rest.
    pub fn new(high_pass_hz: f64, low_pass_hz: f64, sample_rate: u32) -> Self {
        let corner = |hz: f64| if hz > 0.0 { hz } else { 1000.0 };
        KeyFilter {
            corners: [high_pass_hz, low_pass_hz],
            high_pass: Svf::new(corner(high_pass_hz), sample_rate),
            low_pass: Svf::new(corner(low_pass_hz), sample_rate),
            sample_rate,
        }
    }

    /// Other corners; what it remembers stays.
    pub fn tune(&mut self, high_pass_hz: f64, low_pass_hz: f64) {
        if high_pass_hz > 0.0 {
            self.high_pass.tune(high_pass_hz, FRAC_1_SQRT_2, self.sample_rate);
        }
        if low_pass_hz > 0.0 {
            self.low_pass.tune(low_pass_hz, FRAC_1_SQRT_2, self.sample_rate);
        }
        self.corners = [high_pass_hz, low_pass_hz];
    }

    /// Whether what it uses remembers nothing.
    pub fn rests(&self) -> bool {
        (self.corners[0] <= 0.0 || self.high_pass.rests()) && (self.corners[1] <= 0.0 || self.low_pass.rests())
    }

    /// The next frame.
    #[inline]
    pub fn step(&mut self, mut frame: Frame) -> Frame {
        if self.corners[0] > 0.0 {
            frame = self.high_pass.high(frame);
        }
        if self.corners[1] > 0.0 {
            frame = self.low_pass.low(frame);
        }
        frame
    }

    /// Filters frames in place. Fit for the audio thread.
    pub fn run(&mut self, frames: &mut [Frame]) {
        if self.corners[0] > 0.0 {
            frames.iter_mut().for_each(|f| *f = self.high_pass.high(*f));
        }
        if self.corners[1] > 0.0 {
            frames.iter_mut().for_each(|f| *f = self.low_pass.low(*f));
        }
    }

    /// Forgets what came before.
    pub fn reset(&mut self) {
        self.high_pass.reset();
        self.low_pass.reset();
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    /// Gain of a steady sine after a second, by its mean square over whole periods.
    fn gain(hz: f64, mut filter: impl FnMut(Frame) -> Frame) -> f64 {
        let mut sum: f64 = 0.0;
        for n in 0..96_000 {
            let x = libm::sin(2.0 * PI * hz * f64::from(n) / 48_000.0);
            let [y, _] = filter([x, x]);
            if n >= 48_000 {
                sum += y * y;
            }
        }
        libm::sqrt(2.0 * sum / 48_000.0)
    }

    #[rstest]
    #[case::far_under(20.0)]
    #[case::corner(1000.0)]
    #[case::over(4000.0)]
    fn butterworth_magnitudes(#[case] hz: f64) {
        // The bilinear transform maps frequencies by the tangent.
        let warped = libm::tan(PI * hz / 48_000.0) / libm::tan(PI * 1000.0 / 48_000.0);
        let low = 1.0 / libm::sqrt(1.0 + libm::pow(warped, 4.0));
        let high = low * warped * warped;
        let mut filter = Svf::new(1000.0, 48_000);
        assert!((gain(hz, |f| filter.low(f)) - low).abs() < 1e-6);
        filter.reset();
        assert!((gain(hz, |f| filter.high(f)) - high).abs() < 1e-6);
    }
}
