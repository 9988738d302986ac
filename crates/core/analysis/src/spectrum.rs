//! Spectra of windows of sound, the same on every machine: without instructions chosen at run time.

use lane_units::{Frame, gain_to_db};
pub use rustfft::num_complex::Complex;
use rustfft::{Fft, FftPlannerScalar};
use serde::Serialize;
use std::f64::consts::TAU;
use std::sync::Arc;

/// Transforms of one length, in place.
pub struct Transform {
    plan: Arc<dyn Fft<f64>>,
    scratch: Vec<Complex<f64>>,
}

impl Transform {
    /// * `length` – values of a piece, at least 2.
    pub fn new(length: usize) -> Self {
        let plan = FftPlannerScalar::new().plan_fft_forward(length);
        let scratch = vec![Complex::new(0.0, 0.0); plan.get_inplace_scratch_len()];
        Transform { plan, scratch }
    }

    /// The values of a piece as those of its frequencies, not divided by their number.
    pub fn forward(&mut self, values: &mut [Complex<f64>]) {
        self.plan.process_with_scratch(values, &mut self.scratch);
    }
}

/// Power spectra of Hann-windowed pieces.
pub struct Spectrum {
    plan: Arc<dyn Fft<f64>>,
    hann: Vec<f64>,
    work: Vec<Complex<f64>>,
    scratch: Vec<Complex<f64>>,
}

impl Spectrum {
    /// * `window` – frames of a piece, at least 2.
    pub fn new(window: usize) -> Self {
        let plan = FftPlannerScalar::new().plan_fft_forward(window);
        let hann = (0..window).map(|n| 0.5 - 0.5 * libm::cos(TAU * n as f64 / window as f64)).collect();
        let zero = Complex::new(0.0, 0.0);
        let scratch = vec![zero; plan.get_inplace_scratch_len()];
        Spectrum { plan, hann, work: vec![zero; window], scratch }
    }

    /// Power of the bins from 0 Hz up to half the rate; `sample` gives the frames of the piece.
    pub fn power(&mut self, sample: impl Fn(usize) -> f64) -> impl Iterator<Item = f64> + '_ {
        for (n, (value, hann)) in self.work.iter_mut().zip(&self.hann).enumerate() {
            *value = Complex::new(sample(n) * hann, 0.0);
        }
        self.plan.process_with_scratch(&mut self.work, &mut self.scratch);
        self.work[..self.hann.len() / 2 + 1].iter().map(|v| v.norm_sqr())
    }

    /// The powers of both sides together, by one transform.
    pub fn power_of_both(&mut self, frame: impl Fn(usize) -> Frame) -> impl Iterator<Item = f64> + '_ {
        for (n, (value, hann)) in self.work.iter_mut().zip(&self.hann).enumerate() {
            let [l, r] = frame(n);
            *value = Complex::new(l * hann, r * hann);
        }
        self.plan.process_with_scratch(&mut self.work, &mut self.scratch);
        // One side is real, the other imaginary: what they have in a bin is spread over it and its mirror.
        let count = self.hann.len();
        (0..count / 2 + 1).map(move |n| 0.5 * (self.work[n].norm_sqr() + self.work[(count - n) % count].norm_sqr()))
    }
}

/// Bands of an octave.
const PER_OCTAVE: f64 = 12.0;
/// Lowest and highest band in Hz.
const FROM_HZ: f64 = 20.0;
const TO_HZ: f64 = 20_000.0;
/// Frames of a window of a band meter.
const WINDOW: usize = 16_384;

/// A spectrum in bands: of a twelfth of an octave, where nothing else is said.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Bands {
    /// Middles in Hz.
    pub hz: Vec<f64>,
    /// Mean power in dBFS, a sine of full scale at -3; -150 for silence.
    pub db: Vec<f64>,
}

/// Mean power in bands of a stream of frames; memory does not grow with its length.
pub struct BandMeter {
    spectrum: Spectrum,
    window: Vec<Frame>,
    filled: usize,
    power: Vec<f64>,
    windows: u32,
    sample_rate: u32,
}

impl BandMeter {
    /// A meter of sound at a rate in Hz.
    pub fn new(sample_rate: u32) -> Self {
        BandMeter {
            spectrum: Spectrum::new(WINDOW),
            window: vec![[0.0; 2]; WINDOW],
            filled: 0,
            power: vec![0.0; WINDOW / 2 + 1],
            windows: 0,
            sample_rate,
        }
    }

    /// Takes the next frames.
    pub fn take(&mut self, mut frames: &[Frame]) {
        while !frames.is_empty() {
            let count = frames.len().min(WINDOW - self.filled);
            self.window[self.filled..self.filled + count].copy_from_slice(&frames[..count]);
            frames = &frames[count..];
            self.filled += count;
            if self.filled == WINDOW {
                self.add();
                // Windows overlap by half, so that what one fades out the next has whole.
                self.window.copy_within(WINDOW / 2.., 0);
                self.filled = WINDOW / 2;
            }
        }
    }

    /// Both sides by power, so that what differs between them counts too.
    fn add(&mut self) {
        self.windows += 1;
        if self.window.iter().all(|f| *f == [0.0; 2]) {
            return;
        }
        for side in 0..2 {
            let window = &self.window;
            for (sum, power) in self.power.iter_mut().zip(self.spectrum.power(|n| window[n][side])) {
                *sum += 0.5 * power;
            }
        }
    }

    /// The spectrum of all that was taken.
    pub fn read(&self) -> Bands {
        let count = (PER_OCTAVE * libm::log2(TO_HZ / FROM_HZ)) as usize + 1;
        let hz = (0..count).map(|n| FROM_HZ * libm::exp2(n as f64 / PER_OCTAVE)).collect();
        self.bands(hz, PER_OCTAVE)
    }

    /// The same in whole octaves around 1 kHz, ten of them from 31.25 Hz to 16 kHz (IEC 61260-1, base 2).
    pub fn octaves(&self) -> Bands {
        self.bands((-5..=4).map(|n| 1000.0 * libm::exp2(f64::from(n))).collect(), 1.0)
    }

    fn bands(&self, hz: Vec<f64>, per_octave: f64) -> Bands {
        let bin_hz = f64::from(self.sample_rate) / WINDOW as f64;
        let power = &self.power;
        // A Hann window keeps 3/8 of the power; bins below half the rate count twice.
        let scale = 2.0 / (0.375 * (WINDOW * WINDOW) as f64 * f64::from(self.windows.max(1)));
        let half = libm::exp2(0.5 / per_octave);
        let db = hz
            .iter()
            .map(|middle| {
                let (from, to) = (middle / half / bin_hz, middle * half / bin_hz);
                // Bins belong to a band by the part of them that lies in it.
                let (first, last) = ((from + 0.5) as usize, ((to + 0.5) as usize).min(power.len() - 1));
                let part = |bin: usize| (to.min(bin as f64 + 0.5) - from.max(bin as f64 - 0.5)).clamp(0.0, 1.0);
                let sum: f64 = (first..=last).map(|bin| part(bin) * power[bin]).sum();
                gain_to_db(libm::sqrt(sum * scale)).max(-150.0)
            })
            .collect();
        Bands { hz, db }
    }
}

/// One window of sound as bands, from its newest frames.
pub fn bands_of(frames: &[Frame], sample_rate: u32) -> Bands {
    let mut meter = BandMeter::new(sample_rate);
    let newest = &frames[frames.len().saturating_sub(WINDOW)..];
    meter.take(&vec![[0.0; 2]; WINDOW - newest.len()]);
    meter.take(newest);
    meter.read()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_tone_on_a_bin_is_in_it_and_its_neighbours() {
        let mut spectrum = Spectrum::new(256);
        let power: Vec<f64> = spectrum.power(|n| libm::sin(TAU * 10.0 * n as f64 / 256.0)).collect();
        assert_eq!(power.len(), 129);
        // A Hann window of 256 has half of its sum in the bin of a sine: 256 / 4.
        assert!((power[10].sqrt() - 64.0).abs() < 1e-9);
        assert!(power.iter().enumerate().all(|(n, p)| n.abs_diff(10) <= 1 || *p < 1e-18));
    }

    #[test]
    fn one_transform_has_the_powers_of_both_sides() {
        let mut dice = lane_units::Dice::new(&[8]);
        let frames: Vec<Frame> = (0..240).map(|_| [dice.spread(), 0.3 * dice.spread()]).collect();
        let mut spectrum = Spectrum::new(240);
        let [left, right] = [0, 1].map(|side| spectrum.power(|n| frames[n][side]).collect::<Vec<_>>());
        let both: Vec<f64> = spectrum.power_of_both(|n| frames[n]).collect();
        assert_eq!(both.len(), 121);
        assert!(both.iter().zip(left.iter().zip(&right)).all(|(b, (l, r))| (b - l - r).abs() < 1e-9));
    }

    #[test]
    fn octaves_hold_what_lies_in_them() {
        for (at, hz) in [(0, 31.25), (3, 250.0), (5, 1000.0), (8, 8000.0)] {
            let mut meter = BandMeter::new(48_000);
            let tone = |n: i32| [libm::sin(TAU * hz * f64::from(n) / 48_000.0); 2];
            meter.take(&(0..100_000).map(tone).collect::<Vec<Frame>>());
            let found = meter.octaves();
            assert_eq!(found.hz.len(), 10);
            assert!((found.hz[at] - hz).abs() < 1e-9);
            assert!((found.db[at] + 3.01).abs() < 0.1, "{hz}: {}", found.db[at]);
            assert!(found.db.iter().enumerate().all(|(n, db)| n == at || *db < -30.0), "{hz}: {:?}", found.db);
        }
    }

    #[test]
    fn bands_say_the_power_of_a_tone_and_of_noise() {
        let tone: Vec<Frame> = (0..100_000).map(|n| [libm::sin(TAU * 1000.0 * f64::from(n) / 48_000.0); 2]).collect();
        let mut meter = BandMeter::new(48_000);
        meter.take(&tone);
        let found = meter.read();
        let whole: f64 = found.db.iter().map(|db| libm::exp10(db / 10.0)).sum();
        assert!((10.0 * whole.log10() + 3.01).abs() < 0.1, "{}", 10.0 * whole.log10());
        let loudest = (0..found.db.len()).max_by(|a, b| found.db[*a].total_cmp(&found.db[*b])).unwrap();
        assert!((found.hz[loudest] / 1000.0 - 1.0).abs() < 0.03);
        // White noise has as much power in a hertz at 1 kHz as at 8 kHz, so 9 dB more in a band.
        let mut dice = lane_units::Dice::new(&[3]);
        let noise: Vec<Frame> = (0..400_000).map(|_| [dice.spread(), dice.spread()]).collect();
        let mut meter = BandMeter::new(48_000);
        meter.take(&noise);
        let found = meter.read();
        let at = |hz: f64| {
            let near = |n: &usize| (libm::log2(found.hz[*n] / hz)).abs() < 0.25;
            let some: Vec<f64> = (0..found.hz.len()).filter(near).map(|n| found.db[n]).collect();
            some.iter().sum::<f64>() / some.len() as f64
        };
        assert!((at(8000.0) - at(1000.0) - 9.03).abs() < 0.7, "{}", at(8000.0) - at(1000.0));
    }
}
