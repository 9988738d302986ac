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

/// Short-term loudness and true peak of what is playing.
pub struct LiveLoudness {
    meter: EbuR128,
    peak: f64,
}

impl LiveLoudness {
    pub fn new(sample_rate: u32) -> Self {
        let meter = EbuR128::new(2, sample_rate, Mode::S | Mode::TRUE_PEAK)
            .expect("two channels and a session rate are always accepted");
        LiveLoudness { meter, peak: 0.0 }
    }

    pub fn take(&mut self, frames: &[Frame]) {
        self.meter.add_frames_f64(frames.as_flattened()).expect("frames of two channels are whole");
        for channel in 0..2 {
            self.peak = self.peak.max(self.meter.prev_true_peak(channel).unwrap_or(0.0));
        }
    }

    /// Loudness of the last 3 s in LUFS.
    pub fn short_term_lufs(&self) -> f64 {
        self.meter.loudness_shortterm().unwrap_or(f64::NEG_INFINITY)
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
}
