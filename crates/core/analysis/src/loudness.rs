//! Loudness and true peak after ITU-R BS.1770-5 and EBU R 128.

use lane_dsp::{Runner, Section, TruePeak};
use lane_units::Frame;

/// Levels of a finished piece of sound.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Loudness {
    /// Integrated loudness in LUFS; negative infinity for silence.
    pub integrated_lufs: f64,
    /// Sample peak, linear.
    pub sample_peak: f64,
    /// True peak, linear.
    pub true_peak: f64,
}

/// The K-weighting of ITU-R BS.1770-5, annex 1: a shelf, then a high-pass. The standard gives coefficients for
/// 48 kHz; here they come from the analogue filters behind them, by the bilinear transform.
fn k_weighting(sample_rate: u32) -> [Runner; 2] {
    let rate = f64::from(sample_rate);
    let tan = |hz: f64| libm::tan(std::f64::consts::PI * hz / rate);
    let (k, q) = (tan(1681.974450955533), 0.7071752369554196);
    let high = libm::exp10(3.999843853973347 / 20.0);
    let middle = libm::pow(high, 0.4996667741545416);
    let a0 = 1.0 + k / q + k * k;
    let shelf = Section::of(
        [(high + middle * k / q + k * k) / a0, 2.0 * (k * k - high) / a0, (high - middle * k / q + k * k) / a0],
        [2.0 * (k * k - 1.0) / a0, (1.0 - k / q + k * k) / a0],
    );
    let (k, q) = (tan(38.13547087602444), 0.5003270373238773);
    let a0 = 1.0 + k / q + k * k;
    let high_pass = Section::of([1.0, -2.0, 1.0], [2.0 * (k * k - 1.0) / a0, (1.0 - k / q + k * k) / a0]);
    [Runner::new(&shelf), Runner::new(&high_pass)]
}

/// The loudness of a mean square after weighting, in LUFS.
fn lufs(mean: f64) -> f64 {
    -0.691 + 10.0 * libm::log10(mean)
}

/// Energies of what comes in, weighted, in pieces of 0.1 s.
struct Pieces {
    weighting: [Runner; 2],
    energy: f64,
    frames: usize,
    length: usize,
}

impl Pieces {
    fn new(sample_rate: u32) -> Self {
        Pieces { weighting: k_weighting(sample_rate), energy: 0.0, frames: 0, length: sample_rate as usize / 10 }
    }

    /// Takes frames and says the mean square of every piece that ends with them.
    fn take(&mut self, mut frames: &[Frame], mut piece: impl FnMut(f64)) {
        while !frames.is_empty() {
            let (now, rest) = frames.split_at(frames.len().min(self.length - self.frames));
            let [shelf, high_pass] = &mut self.weighting;
            let mut energies = [0.0; 2];
            for frame in now {
                let weighted = high_pass.step(shelf.step(*frame));
                for (energy, x) in energies.iter_mut().zip(weighted) {
                    *energy += x * x;
                }
            }
            self.energy += energies[0] + energies[1];
            self.frames += now.len();
            if self.frames == self.length {
                piece(self.energy / self.length as f64);
                (self.energy, self.frames) = (0.0, 0);
                self.weighting.iter_mut().for_each(Runner::settle);
            }
            frames = rest;
        }
    }
}

/// Pieces of a gated block: 0.4 s in steps of 0.1 s.
const BLOCK_PIECES: usize = 4;
/// Blocks under this, in LUFS, never count.
const ABSOLUTE_GATE: f64 = -70.0;
/// Blocks so many LU under the mean of the others do not count.
const RELATIVE_GATE: f64 = -10.0;
/// So many blocks are kept as they are, so that the gates are exact: 6.8 minutes.
const EXACT: usize = 4096;
/// All of more are kept by their loudness in steps of a twentieth of 1 LU, up to 30 LUFS.
const STEPS_A_LU: f64 = 20.0;
const STEPS: usize = 2000;

/// Measures a stream of frames; memory does not grow beyond the first minutes.
pub struct LoudnessMeter {
    pieces: Pieces,
    /// The newest pieces, the oldest overwritten first.
    last: [f64; BLOCK_PIECES],
    seen: usize,
    /// Mean squares of the first blocks over the absolute gate, and how many there were.
    exact: Vec<f64>,
    over: usize,
    /// How many blocks are so loud, and the sum of their mean squares.
    blocks: Vec<(u32, f64)>,
    sample_peak: f64,
    true_peak: TruePeak,
}

impl LoudnessMeter {
    /// * `sample_rate` – in Hz, one of the session rates.
    pub fn new(sample_rate: u32) -> Self {
        LoudnessMeter {
            pieces: Pieces::new(sample_rate),
            last: [0.0; BLOCK_PIECES],
            seen: 0,
            exact: Vec::new(),
            over: 0,
            blocks: vec![(0, 0.0); STEPS],
            sample_peak: 0.0,
            true_peak: TruePeak::default(),
        }
    }

    /// Takes the next frames.
    pub fn take(&mut self, frames: &[Frame]) {
        let LoudnessMeter { pieces, last, seen, exact, over: loud, blocks, .. } = self;
        pieces.take(frames, |mean| {
            last[*seen % BLOCK_PIECES] = mean;
            *seen += 1;
            let block = last.iter().sum::<f64>() / BLOCK_PIECES as f64;
            let over = lufs(block) - ABSOLUTE_GATE;
            if *seen >= BLOCK_PIECES && over >= 0.0 {
                *loud += 1;
                if exact.len() < EXACT {
                    exact.push(block);
                }
                let (count, sum) = &mut blocks[((over * STEPS_A_LU) as usize).min(STEPS - 1)];
                *count += 1;
                *sum += block;
            }
        });
        for [l, r] in frames {
            self.sample_peak = self.sample_peak.max(l.abs()).max(r.abs());
        }
        self.true_peak.take(frames);
    }

    /// The levels of all that was taken.
    pub fn read(&self) -> Loudness {
        Loudness {
            integrated_lufs: if self.over <= EXACT { self.exactly() } else { self.by_steps() },
            sample_peak: self.sample_peak,
            true_peak: self.true_peak.read(),
        }
    }
}

impl LoudnessMeter {
    fn exactly(&self) -> f64 {
        let mean_over = |gate: f64| {
            let over = self.exact.iter().filter(|block| **block > gate);
            let (count, sum) = over.fold((0_u32, 0.0), |(count, sum), block| (count + 1, sum + block));
            sum / f64::from(count.max(1))
        };
        lufs(mean_over(mean_over(0.0) * libm::exp10(RELATIVE_GATE / 10.0)))
    }

    fn by_steps(&self) -> f64 {
        let mean_from = |step: usize| {
            let (count, sum) = self.blocks[step..].iter().fold((0, 0.0), |all, b| (all.0 + b.0, all.1 + b.1));
            lufs(sum / f64::from(count.max(1)))
        };
        let gate = mean_from(0) + RELATIVE_GATE - ABSOLUTE_GATE;
        mean_from((libm::round(gate * STEPS_A_LU).max(0.0) as usize).min(STEPS - 1))
    }
}

/// Pieces of a short-term reading: 3 s in steps of 0.1 s.
const SHORT_PIECES: usize = 30;

/// Short-term loudness and true peak of what is playing. A reading costs the same at any time.
pub struct LiveLoudness {
    pieces: Pieces,
    /// The newest pieces, the oldest overwritten first.
    last: [f64; SHORT_PIECES],
    next: usize,
    true_peak: TruePeak,
}

impl LiveLoudness {
    /// A meter of sound at a rate in Hz.
    pub fn new(sample_rate: u32) -> Self {
        LiveLoudness {
            pieces: Pieces::new(sample_rate),
            last: [0.0; SHORT_PIECES],
            next: 0,
            true_peak: TruePeak::default(),
        }
    }

    /// Takes the next frames. Fit for the audio thread.
    pub fn take(&mut self, frames: &[Frame]) {
        let (last, next) = (&mut self.last, &mut self.next);
        self.pieces.take(frames, |mean| {
            last[*next] = mean;
            *next = (*next + 1) % SHORT_PIECES;
        });
        self.true_peak.take(frames);
    }

    /// Loudness of the last 3 s in LUFS, in steps of 0.1 s.
    pub fn short_term_lufs(&self) -> f64 {
        lufs(self.last.iter().sum::<f64>() / SHORT_PIECES as f64)
    }

    /// Highest true peak since the last call, linear.
    pub fn take_true_peak(&mut self) -> f64 {
        self.true_peak.take_peak()
    }
}

/// Loudness over time of a stretch that goes round: what its beginning follows is its end.
pub struct LoudnessTrack {
    pieces: Pieces,
    means: Vec<f64>,
}

impl LoudnessTrack {
    /// A meter of sound at a rate in Hz.
    pub fn new(sample_rate: u32) -> Self {
        LoudnessTrack { pieces: Pieces::new(sample_rate), means: Vec::new() }
    }

    /// Takes the next frames. Memory grows by 10 values a second.
    pub fn take(&mut self, frames: &[Frame]) {
        let means = &mut self.means;
        self.pieces.take(frames, |mean| means.push(mean));
    }

    /// Means over so many pieces, each ending where one of them ends.
    fn means_over(&self, pieces: usize) -> impl Iterator<Item = f64> + '_ {
        let count = self.means.len();
        let over = pieces.min(count).max(1);
        (0..count)
            .map(move |at| (0..over).map(|back| self.means[(at + count - back) % count]).sum::<f64>() / over as f64)
    }

    /// Momentary loudness, over 0.4 s, in LUFS in steps of 0.1 s, negative infinity for silence; of more than `most` values
    /// the means of as many that stand side by side.
    pub fn momentary_lufs(&self, most: usize) -> Vec<f64> {
        let means: Vec<f64> = self.means_over(BLOCK_PIECES).collect();
        let of = means.len().div_ceil(most.max(1)).max(1);
        means.chunks(of).map(|some| lufs(some.iter().sum::<f64>() / some.len() as f64)).collect()
    }

    /// The highest short-term loudness, over 3 s, in LUFS; over all of it where that is shorter.
    pub fn highest_short_term_lufs(&self) -> f64 {
        lufs(self.means_over(SHORT_PIECES).fold(0.0, f64::max))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use ebur128::{EbuR128, Mode};
    use lane_units::{Dice, gain_to_db};
    use rstest::rstest;

    fn sine(hz: f64, peak_dbfs: f64, phase: f64, seconds: usize) -> Vec<Frame> {
        let gain = lane_units::db_to_gain(peak_dbfs);
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
        let mut meter = LoudnessMeter::new(48_000);
        let mut live = LiveLoudness::new(48_000);
        frames.chunks(128).for_each(|f| meter.take(f));
        frames.chunks(128).for_each(|f| live.take(f));
        assert!((meter.read().integrated_lufs - dbfs).abs() < 0.1);
        assert!((live.short_term_lufs() - dbfs).abs() < 0.1);
    }

    // EBU Tech 3341, cases 15 to 19: parts of the rate, phase in degrees, peak between samples. The standard allows
    // 0.2 dB over and 0.4 dB under.
    #[rstest]
    #[case::at_samples(4, 0.0, -6.0)]
    #[case::quarter(4, 45.0, -6.0)]
    #[case::sixth(6, 60.0, -6.0)]
    #[case::eighth(8, 67.5, -6.0)]
    #[case::over_full_scale(4, 45.0, 3.0)]
    fn true_peak_is_found_between_samples(#[case] part: u32, #[case] degrees: f64, #[case] dbtp: f64) {
        let mut meter = LoudnessMeter::new(48_000);
        let mut tone = sine(48_000.0 / f64::from(part), dbtp, degrees.to_radians(), 1);
        // Begun at once it would overshoot.
        for (n, frame) in tone[..4800].iter_mut().enumerate() {
            *frame = frame.map(|x| x * n as f64 / 4800.0);
        }
        meter.take(&tone);
        let db = gain_to_db(meter.read().true_peak);
        assert!((dbtp - 0.4..=dbtp + 0.2).contains(&db), "{db}");
    }

    #[rstest]
    fn blocks_near_the_gate_count_as_the_standard_says(#[values(1, 2, 3, 4, 5, 6, 7, 8)] seed: u64) {
        let mut dice = Dice::new(&[seed]);
        // Half a second each, at levels on both sides of the relative gate.
        let frames: Vec<Frame> = (0..30)
            .flat_map(|_| {
                let gain = lane_units::db_to_gain(-10.0 - 14.0 * dice.unit());
                (0..24_000).map(move |n| [gain * libm::sin(f64::from(n) * 0.13); 2]).collect::<Vec<_>>()
            })
            .collect();
        let mut meter = LoudnessMeter::new(48_000);
        meter.take(&frames);
        let mut outside = EbuR128::new(2, 48_000, Mode::I).unwrap();
        outside.add_frames_f64(&frames.concat()).unwrap();
        let wanted = outside.loudness_global().unwrap();
        assert!((meter.read().integrated_lufs - wanted).abs() < 0.005, "{} {wanted}", meter.read().integrated_lufs);
        // What is long is sorted into steps, within a tenth.
        assert!((meter.by_steps() - wanted).abs() < 0.1);
    }

    /// Hits that ring high, some of them close to each other, between silence.
    fn hits(rate: u32, seconds: usize) -> Vec<Frame> {
        let mut dice = Dice::new(&[u64::from(rate)]);
        let length = rate as usize / 7;
        (0..seconds * rate as usize)
            .map(|n| {
                let ring = libm::exp(-((n % length) as f64) / 300.0);
                let tone = libm::sin(n as f64 * (1.0 + (n / length) as f64 * 0.21) + 0.4);
                [ring * (0.6 * tone + 0.3 * dice.spread()), ring * (0.2 * tone - 0.5 * dice.spread())]
            })
            .collect()
    }

    #[rstest]
    fn true_peak_is_that_of_the_sound_between_samples(
        #[values(44_100, 48_000, 88_200, 96_000)] rate: u32,
        #[values(1, 2, 3)] seed: u64,
    ) {
        let mut dice = Dice::new(&[seed]);
        // Tones up to 18 kHz, known at any time, that rise and fall together.
        let tones: Vec<[f64; 3]> =
            (0..12).map(|_| [18_000.0 * dice.unit(), 0.2 * dice.unit(), 6.0 * dice.unit()]).collect();
        let at = |t: f64| -> f64 {
            let whole = libm::sin(std::f64::consts::PI * t / 0.1);
            whole
                * tones.iter().map(|[hz, a, phase]| a * libm::sin(std::f64::consts::TAU * hz * t + phase)).sum::<f64>()
        };
        let frames = rate as usize / 10;
        let sound: Vec<Frame> = (0..frames).map(|n| [at(n as f64 / f64::from(rate)), 0.0]).collect();
        let exact = (0..64 * frames).map(|n| at(n as f64 / f64::from(rate) / 64.0).abs()).fold(0.0, f64::max);
        let mut meter = LoudnessMeter::new(rate);
        sound.chunks(1000).for_each(|piece| meter.take(piece));
        let off = gain_to_db(meter.read().true_peak / exact);
        assert!((-0.1..0.05).contains(&off), "{off} dB");
    }

    #[rstest]
    fn true_peak_is_about_that_of_the_library(#[values(44_100, 48_000, 88_200, 96_000)] rate: u32) {
        let sound = hits(rate, 3);
        let mut library = EbuR128::new(2, rate, Mode::TRUE_PEAK).unwrap();
        library.add_frames_f64(sound.as_flattened()).unwrap();
        let expected = gain_to_db(library.true_peak(0).unwrap().max(library.true_peak(1).unwrap()));
        let mut meter = LoudnessMeter::new(rate);
        sound.chunks(1000).for_each(|piece| meter.take(piece));
        let found = gain_to_db(meter.read().true_peak);
        // Its filter is a quarter as long and loses some of the top, of which these hits are full.
        assert!((-0.05..0.9).contains(&(found - expected)), "{found} dBTP, the library says {expected}");
    }

    #[rstest]
    fn pieces_that_are_passed_over_change_nothing(#[values(1, 63, 64, 65, 500)] block: usize) {
        let sound = hits(48_000, 1);
        let mut whole = TruePeak::default();
        whole.take(&sound);
        // Nothing passed over: every block read anew.
        let mut slow = TruePeak::default();
        let mut most = 0.0_f64;
        for piece in sound.chunks(block) {
            slow.take(piece);
            most = most.max(slow.take_peak());
        }
        assert_eq!(whole.read(), most);
    }

    #[test]
    fn a_true_peak_is_read_once_when_it_is_taken() {
        let mut live = LiveLoudness::new(48_000);
        live.take(&sine(1000.0, -6.0, 0.0, 1));
        assert!((gain_to_db(live.take_true_peak()) + 6.0).abs() < 0.05);
        live.take(&[[0.0; 2]; 480]);
        live.take_true_peak();
        live.take(&[[0.0; 2]; 480]);
        assert_eq!(live.take_true_peak(), 0.0);
    }

    #[test]
    fn silence_has_no_loudness() {
        let mut meter = LoudnessMeter::new(48_000);
        meter.take(&vec![[0.0; 2]; 48_000]);
        assert_eq!(meter.read().integrated_lufs, f64::NEG_INFINITY);
    }

    #[rstest]
    #[case(44_100)]
    #[case(48_000)]
    #[case(96_000)]
    fn live_short_term_loudness_is_that_of_the_library(#[case] rate: u32) {
        let mut dice = Dice::new(&[9]);
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

    #[rstest]
    #[case(44_100)]
    #[case(48_000)]
    #[case(88_200)]
    #[case(96_000)]
    fn integrated_loudness_is_that_of_the_library(#[case] rate: u32) {
        let mut dice = Dice::new(&[11]);
        let mut meter = LoudnessMeter::new(rate);
        let mut library = EbuR128::new(2, rate, Mode::I).unwrap();
        // Loud and soft by turns, some of it under either gate.
        let frames: Vec<Frame> = (0..20 * rate as usize)
            .map(|n| {
                let level = [0.5, 0.05, 0.0001, 0.2, 0.0][n / rate as usize % 5];
                [level * dice.spread(), level * libm::sin(0.02 * n as f64)]
            })
            .collect();
        frames.chunks(777).for_each(|piece| meter.take(piece));
        library.add_frames_f64(frames.as_flattened()).unwrap();
        let (found, expected) = (meter.read().integrated_lufs, library.loudness_global().unwrap());
        assert!((found - expected).abs() < 0.02, "{found} {expected}");
    }

    #[test]
    fn what_is_shorter_than_a_block_has_no_loudness() {
        let mut meter = LoudnessMeter::new(48_000);
        meter.take(&sine(1000.0, -10.0, 0.0, 1)[..19_100]);
        assert_eq!(meter.read().integrated_lufs, f64::NEG_INFINITY);
    }

    // EBU Tech 3341, case 3: what is soft before and after does not count.
    #[test]
    fn soft_parts_are_gated() {
        let mut meter = LoudnessMeter::new(48_000);
        for (dbfs, seconds) in [(-36.0, 10), (-23.0, 60), (-36.0, 10)] {
            meter.take(&sine(1000.0, dbfs, 0.0, seconds));
        }
        assert!((meter.read().integrated_lufs + 23.0).abs() < 0.1);
    }

    #[test]
    fn live_silence_has_no_loudness() {
        let mut live = LiveLoudness::new(48_000);
        live.take(&[[0.0; 2]; 4800]);
        assert_eq!(live.short_term_lufs(), f64::NEG_INFINITY);
    }
}
