//! Interpolation of samples by a windowed sinc.
//!
//! Source: Kaiser-windowed ideal low-pass after J. O. Smith, "Digital Audio Resampling", CCRMA. Tuning up
//! lowers the cut-off, so that nothing folds back.

use lane_document::session::Audio;
use lane_dsp::bessel_i0;
use lane_units::Frame;

/// Zero crossings on each side.
const CROSSINGS: usize = 24;
/// Table points between two zero crossings; read with linear interpolation.
const POINTS: usize = 4096;
/// Kaiser window shape; about 100 dB of stop band.
const BETA: f64 = 10.0;
/// Share of the band kept, so that the transition lies under half the rate.
const CUTOFF: f64 = 0.94;

/// Half of a windowed sinc, sampled finely.
pub(crate) struct SincTable(Vec<f64>);

impl SincTable {
    pub fn new() -> Self {
        let norm = bessel_i0(BETA);
        let value = |i: usize| {
            let x = i as f64 / POINTS as f64;
            let edge = x / CROSSINGS as f64;
            let window = bessel_i0(BETA * libm::sqrt((1.0 - edge * edge).max(0.0))) / norm;
            let arg = std::f64::consts::PI * x;
            let sinc = if i == 0 { 1.0 } else { libm::sin(arg) / arg };
            sinc * window
        };
        SincTable((0..=CROSSINGS * POINTS + 1).map(value).collect())
    }

    /// The windowed sinc at a distance in zero crossings.
    fn at(&self, distance: f64) -> f64 {
        let x = distance.abs() * POINTS as f64;
        let cell = x as usize;
        match (self.0.get(cell), self.0.get(cell + 1)) {
            (Some(a), Some(b)) => a + (b - a) * (x - cell as f64),
            _ => 0.0,
        }
    }
}

/// The weights for reading audio at one speed: a row for every phase between two frames.
pub(crate) struct Kernel {
    scale: f64,
    /// Frames read for one value; a multiple of [`LANES`].
    taps: usize,
    /// Frames on each side that the weights reach.
    reach: usize,
    /// `PHASES + 1` rows, the last equal to the first one frame on.
    rows: Vec<f64>,
}

/// Phases between two frames; weights between them are interpolated.
const PHASES: usize = 512;
/// Sums kept side by side, always in this order, so that every machine adds alike.
const LANES: usize = 4;
/// Speeds above this share the weights of this one.
const FASTEST: f64 = 8.0;
/// Frames read for one value at most.
const MOST_TAPS: usize = 2 * (CROSSINGS as f64 * FASTEST / CUTOFF) as usize + 2 * LANES;

impl Kernel {
    /// Weights for reading `rate` times as fast as recorded, none of them there yet. Allocates.
    pub fn begin(rate: f64) -> Self {
        let scale = CUTOFF / rate.clamp(1.0, FASTEST);
        let reach = libm::ceil(CROSSINGS as f64 / scale) as usize;
        let taps = (2 * reach).next_multiple_of(LANES);
        Kernel { scale, taps, reach, rows: Vec::with_capacity(taps * (PHASES + 1)) }
    }

    /// Works out about so many more weights; gives whether all are there.
    pub fn go_on(&mut self, table: &SincTable, weights: usize) -> bool {
        let Kernel { scale, taps, reach, rows } = self;
        let from = rows.len() / *taps;
        for phase in from..(from + weights.div_ceil(*taps)).min(PHASES + 1) {
            let position = phase as f64 / PHASES as f64;
            for tap in 0..*taps {
                // The first tap lies `reach - 1` frames before the position.
                let distance = tap as f64 - (*reach as f64 - 1.0) - position;
                rows.push(*scale * table.at(distance * *scale));
            }
        }
        self.is_whole()
    }

    /// Whether all weights are there.
    pub fn is_whole(&self) -> bool {
        self.rows.len() == self.taps * (PHASES + 1)
    }

    /// All weights for reading `rate` times as fast as recorded. Allocates.
    #[cfg(test)]
    pub fn new(table: &SincTable, rate: f64) -> Self {
        let mut kernel = Kernel::begin(rate);
        while !kernel.go_on(table, usize::MAX / 2) {}
        kernel
    }

    /// The audio at a position between frames; silence outside.
    #[inline]
    pub fn read(&self, audio: &Audio, position: f64) -> Frame {
        // Positions are never negative, so cutting is rounding down.
        let whole = position as usize as f64;
        let cell = (position - whole) * PHASES as f64;
        let phase = cell as usize;
        let fraction = cell - phase as f64;
        let (a, rest) = self.rows[phase * self.taps..].split_at(self.taps);
        let b = &rest[..self.taps];
        // Rounding up to whole lanes adds taps behind the position only.
        let first = whole as isize + 1 - self.reach as isize;
        let channels = usize::from(audio.channels());
        let inside = first >= 0 && first as usize + self.taps <= audio.frames();
        if channels == 1 {
            let sum = if inside {
                dot(a, b, fraction, &audio.samples()[first as usize..first as usize + self.taps])
            } else {
                let mut window = [0.0; MOST_TAPS];
                fill(&mut window[..self.taps], first, |at| audio.frame(at)[0]);
                dot(a, b, fraction, &window[..self.taps])
            };
            return [sum; 2];
        }
        if inside {
            return dot_pairs(a, b, fraction, audio.samples()[2 * first as usize..].as_chunks::<2>().0);
        }
        let mut window = [[0.0; 2]; MOST_TAPS];
        for (n, pair) in window[..self.taps].iter_mut().enumerate() {
            *pair = audio.frame(first + n as isize);
        }
        dot_pairs(a, b, fraction, &window)
    }
}

fn fill(window: &mut [f32], first: isize, at: impl Fn(isize) -> f32) {
    for (n, sample) in window.iter_mut().enumerate() {
        *sample = at(first + n as isize);
    }
}

/// The sum of samples under weights between two rows, in [`LANES`] sums side by side.
#[inline]
fn dot(a: &[f64], b: &[f64], fraction: f64, samples: &[f32]) -> f64 {
    let mut sums = [0.0; LANES];
    let rows = a.chunks_exact(LANES).zip(b.chunks_exact(LANES));
    for ((a, b), s) in rows.zip(samples.chunks_exact(LANES)) {
        for lane in 0..LANES {
            sums[lane] += (a[lane] + (b[lane] - a[lane]) * fraction) * f64::from(s[lane]);
        }
    }
    (sums[0] + sums[1]) + (sums[2] + sums[3])
}

/// The same of both sides at once, each added up in the same order.
#[inline]
fn dot_pairs(a: &[f64], b: &[f64], fraction: f64, pairs: &[[f32; 2]]) -> Frame {
    let mut sums = [[0.0; 2]; LANES];
    let rows = a.as_chunks::<LANES>().0.iter().zip(b.as_chunks::<LANES>().0);
    for ((a, b), pairs) in rows.zip(pairs.as_chunks::<LANES>().0) {
        for lane in 0..LANES {
            let weight = a[lane] + (b[lane] - a[lane]) * fraction;
            for side in 0..2 {
                sums[lane][side] += weight * f64::from(pairs[lane][side]);
            }
        }
    }
    std::array::from_fn(|side| (sums[0][side] + sums[1][side]) + (sums[2][side] + sums[3][side]))
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    fn sine(hz: f64, frames: usize) -> Audio {
        let samples = (0..frames).map(|n| libm::sin(std::f64::consts::TAU * hz * n as f64 / 48_000.0) as f32).collect();
        Audio::new(1, samples).unwrap()
    }

    #[rstest]
    #[case::a_fifth_up(7.0)]
    #[case::a_fifth_down(-7.0)]
    #[case::an_octave_up(12.0)]
    #[case::a_cent(0.01)]
    fn a_tuned_sine_keeps_90_db_to_its_error(#[case] semitones: f64) {
        let rate = libm::exp2(semitones / 12.0);
        let (kernel, audio) = (Kernel::new(&SincTable::new(), rate), sine(1000.0, 24_000));
        let (mut error, mut signal) = (0.0, 0.0);
        for n in 1000..6000 {
            let position = f64::from(n) * rate;
            let exact = libm::sin(std::f64::consts::TAU * 1000.0 * position / 48_000.0);
            let [got, _] = kernel.read(&audio, position);
            error += (got - exact) * (got - exact);
            signal += exact * exact;
        }
        let db = 10.0 * libm::log10(signal / error);
        assert!(db > 90.0, "{db:.1} dB");
    }

    #[test]
    fn edges_and_both_channels_read_like_the_middle() {
        let kernel = Kernel::new(&SincTable::new(), 1.0);
        let mono = sine(1000.0, 4000);
        let mut padded = vec![0.0; 400];
        padded.extend(mono.samples().iter().flat_map(|s| [*s, -s]));
        padded.extend(vec![0.0; 400]);
        let stereo = Audio::new(2, padded).unwrap();
        for n in [0.0, 0.25, 3.75, 100.5, 3990.125] {
            let [l, r] = kernel.read(&stereo, n + 200.0);
            assert_eq!(kernel.read(&mono, n)[0], l);
            assert_eq!(r, -l);
        }
    }

    #[test]
    fn what_would_fold_back_is_taken_out() {
        let (kernel, audio) = (Kernel::new(&SincTable::new(), 2.0), sine(15_000.0, 24_000));
        let peak = (1000..6000).map(|n| kernel.read(&audio, f64::from(n) * 2.0)[0].abs()).fold(0.0, f64::max);
        assert!(lane_units::gain_to_db(peak) < -80.0, "{peak}");
    }
}
