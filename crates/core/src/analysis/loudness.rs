//! Loudness and true peak after ITU-R BS.1770-5 and EBU R 128.

use crate::units::Frame;
use ebur128::{EbuR128, Mode};

/// Levels of a finished piece of sound.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Loudness {
    /// Integrated loudness in LUFS; negative infinity for silence.
    pub integrated_lufs: f64,
    /// Sample peak, linear.
    pub sample_peak: f64,
    /// True peak, linear; `None` where it was not asked for.
    pub true_peak: Option<f64>,
}

/// Measures a stream of frames; memory does not grow with its length.
pub struct LoudnessMeter {
    meter: EbuR128,
    true_peak: bool,
}

impl LoudnessMeter {
    /// * `sample_rate` – in Hz, one of the session rates.
    /// * `true_peak` – whether to measure between samples as well, at about three times the cost.
    pub fn new(sample_rate: u32, true_peak: bool) -> Self {
        let peak = if true_peak { Mode::TRUE_PEAK } else { Mode::SAMPLE_PEAK };
        let meter = EbuR128::new(2, sample_rate, Mode::I | Mode::HISTOGRAM | Mode::SAMPLE_PEAK | peak)
            .expect("two channels and a session rate are always accepted");
        LoudnessMeter { meter, true_peak }
    }

    pub fn take(&mut self, frames: &[Frame]) {
        self.meter.add_frames_f64(frames.as_flattened()).expect("frames of two channels are whole");
    }

    pub fn read(&self) -> Loudness {
        let both = |of: &dyn Fn(u32) -> f64| of(0).max(of(1));
        Loudness {
            integrated_lufs: self.meter.loudness_global().unwrap_or(f64::NEG_INFINITY),
            sample_peak: both(&|c| self.meter.sample_peak(c).unwrap_or(0.0)),
            true_peak: self.true_peak.then(|| both(&|c| self.meter.true_peak(c).unwrap_or(0.0))),
        }
    }
}

/// A second-order section in transposed direct form II.
#[derive(Debug, Clone, Copy)]
struct Section {
    b: [f64; 3],
    a: [f64; 2],
    state: [[f64; 2]; 2],
}

impl Section {
    fn run(&mut self, side: usize, x: f64) -> f64 {
        let Section { b, a, state } = self;
        let s = &mut state[side];
        let y = b[0] * x + s[0];
        *s = [b[1] * x - a[0] * y + s[1], b[2] * x - a[1] * y];
        // What is inaudible is snapped to nothing, so that silence costs no more than sound.
        if s[0].abs() < 1e-30 {
            s[0] = 0.0;
        }
        if s[1].abs() < 1e-30 {
            s[1] = 0.0;
        }
        y
    }
}

/// The K-weighting of ITU-R BS.1770-5, annex 1: a shelf, then a high-pass. The standard gives coefficients for
/// 48 kHz; here they come from the analogue filters behind them, by the bilinear transform.
fn k_weighting(sample_rate: u32) -> [Section; 2] {
    let rate = f64::from(sample_rate);
    let tan = |hz: f64| libm::tan(std::f64::consts::PI * hz / rate);
    let state = [[0.0; 2]; 2];
    let (k, q) = (tan(1681.974450955533), 0.7071752369554196);
    let high = libm::exp10(3.999843853973347 / 20.0);
    let middle = libm::pow(high, 0.4996667741545416);
    let a0 = 1.0 + k / q + k * k;
    let shelf = Section {
        b: [(high + middle * k / q + k * k) / a0, 2.0 * (k * k - high) / a0, (high - middle * k / q + k * k) / a0],
        a: [2.0 * (k * k - 1.0) / a0, (1.0 - k / q + k * k) / a0],
        state,
    };
    let (k, q) = (tan(38.13547087602444), 0.5003270373238773);
    let a0 = 1.0 + k / q + k * k;
    let high_pass = Section { b: [1.0, -2.0, 1.0], a: [2.0 * (k * k - 1.0) / a0, (1.0 - k / q + k * k) / a0], state };
    [shelf, high_pass]
}

/// Pieces of a short-term reading: 3 s in steps of 0.1 s.
const PIECES: usize = 30;

/// Short-term loudness and true peak of what is playing. A reading costs the same at any time.
pub struct LiveLoudness {
    weighting: [Section; 2],
    /// Energies of the last pieces of 0.1 s, the oldest overwritten first.
    pieces: [f64; PIECES],
    next: usize,
    energy: f64,
    frames: usize,
    piece_frames: usize,
    meter: EbuR128,
    peak: f64,
}

impl LiveLoudness {
    pub fn new(sample_rate: u32) -> Self {
        let meter =
            EbuR128::new(2, sample_rate, Mode::TRUE_PEAK).expect("two channels and a session rate are always accepted");
        LiveLoudness {
            weighting: k_weighting(sample_rate),
            pieces: [0.0; PIECES],
            next: 0,
            energy: 0.0,
            frames: 0,
            piece_frames: sample_rate as usize / 10,
            meter,
            peak: 0.0,
        }
    }

    pub fn take(&mut self, frames: &[Frame]) {
        for frame in frames {
            for (side, x) in frame.iter().enumerate() {
                let [shelf, high_pass] = &mut self.weighting;
                let weighted = high_pass.run(side, shelf.run(side, *x));
                self.energy += weighted * weighted;
            }
            self.frames += 1;
            if self.frames == self.piece_frames {
                self.pieces[self.next] = self.energy;
                self.next = (self.next + 1) % PIECES;
                (self.energy, self.frames) = (0.0, 0);
            }
        }
        self.meter.add_frames_f64(frames.as_flattened()).expect("frames of two channels are whole");
        for channel in 0..2 {
            self.peak = self.peak.max(self.meter.prev_true_peak(channel).unwrap_or(0.0));
        }
    }

    /// Loudness of the last 3 s in LUFS, in steps of 0.1 s.
    pub fn short_term_lufs(&self) -> f64 {
        let mean = self.pieces.iter().sum::<f64>() / (PIECES * self.piece_frames) as f64;
        -0.691 + 10.0 * libm::log10(mean)
    }

    /// Highest true peak since the last call, linear.
    pub fn take_true_peak(&mut self) -> f64 {
        std::mem::take(&mut self.peak)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::gain_to_db;
    use rstest::rstest;

    fn sine(hz: f64, peak_dbfs: f64, phase: f64, seconds: usize) -> Vec<Frame> {
        let gain = crate::units::db_to_gain(peak_dbfs);
        (0..48_000 * seconds)
            .map(|n| [gain * libm::sin(std::f64::consts::TAU * hz * n as f64 / 48_000.0 + phase); 2])
            .collect()
    }

    // EBU Tech 3341, cases 1 and 2: a stereo sine of 1 kHz reads its peak level in LUFS.
    #[rstest]
    #[case(-23.0)]
    #[case(-33.0)]
    fn a_steady_sine_reads_as_the_standard_says(#[case] dbfs: f64) {
        let frames = sine(1000.0, dbfs, 0.0, 20);
        let mut meter = LoudnessMeter::new(48_000, false);
        let mut live = LiveLoudness::new(48_000);
        frames.chunks(128).for_each(|f| meter.take(f));
        frames.chunks(128).for_each(|f| live.take(f));
        assert!((meter.read().integrated_lufs - dbfs).abs() < 0.1);
        assert!((live.short_term_lufs() - dbfs).abs() < 0.1);
    }

    // EBU Tech 3341, case 16: a quarter of the rate, 45 degrees, -6 dBFS between samples.
    #[test]
    fn true_peak_is_found_between_samples() {
        let mut meter = LoudnessMeter::new(48_000, true);
        meter.take(&sine(12_000.0, -6.0, std::f64::consts::FRAC_PI_4, 1));
        let read = meter.read();
        let db = gain_to_db(read.true_peak.unwrap());
        assert!((-6.4..=-5.8).contains(&db), "{db}");
        assert!(gain_to_db(read.sample_peak) < -8.9);
    }

    #[test]
    fn silence_has_no_loudness() {
        let mut meter = LoudnessMeter::new(48_000, false);
        meter.take(&vec![[0.0; 2]; 48_000]);
        assert_eq!(meter.read().integrated_lufs, f64::NEG_INFINITY);
    }

    #[rstest]
    #[case(44_100)]
    #[case(48_000)]
    #[case(96_000)]
    fn live_short_term_loudness_is_that_of_the_library(#[case] rate: u32) {
        let mut dice = crate::units::Dice::new(&[9]);
        let mut live = LiveLoudness::new(rate);
        let mut library = EbuR128::new(2, rate, Mode::S).unwrap();
        // Six seconds that rise and fall, noise on the left and a low tone on the right.
        let frames: Vec<Frame> = (0..6 * rate as usize)
            .map(|n| {
                let t = n as f64 / f64::from(rate);
                [0.3 * dice.spread() * (1.0 + libm::sin(3.0 * t)), 0.4 * libm::sin(350.0 * t)]
            })
            .collect();
        for piece in frames.chunks(rate as usize / 10) {
            live.take(piece);
            library.add_frames_f64(piece.as_flattened()).unwrap();
            let expected = library.loudness_shortterm().unwrap();
            assert!((live.short_term_lufs() - expected).abs() < 0.01, "{} {expected}", live.short_term_lufs());
        }
    }

    #[test]
    fn live_silence_has_no_loudness() {
        let mut live = LiveLoudness::new(48_000);
        live.take(&[[0.0; 2]; 4800]);
        assert_eq!(live.short_term_lufs(), f64::NEG_INFINITY);
    }
}
