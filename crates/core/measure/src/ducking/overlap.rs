//! What two sounds share.
//!
//! *Overlap*: per cent of the target's energy, while both sound, that lies in cells of time and band where the two are
//! within 12 dB of each other. Cells are an octave wide and 80 ms long under 250 Hz, a third octave and 20 ms above; each
//! is read through a Hann window of about twice its length. A sound counts as sounding where it is no more than 50 dB under
//! its own loudest 20 ms.

use lane_analysis::Spectrum;
use lane_units::Frame;

/// Two levels are near each other within this, in dB.
const NEAR_DB: f64 = 12.0;
/// What lies further under the loudest moment does not sound, in dB.
const SOUNDS_DB: f64 = 50.0;
/// Where octaves end and third octaves begin, in Hz.
const SEAM_HZ: f64 = 250.0;
const OCTAVES: usize = 4;
const THIRDS: usize = 20;
/// Bands of both sorts.
pub const BANDS: usize = OCTAVES + THIRDS;
/// Seconds of a short cell; a long one is four of them.
const CELL_S: f64 = 0.02;
const LONG: usize = 4;

/// The lower and upper end of a band in Hz.
pub fn edges_hz(band: usize) -> (f64, f64) {
    if band < OCTAVES {
        let low = SEAM_HZ * libm::exp2(band as f64 - OCTAVES as f64);
        (low, 2.0 * low)
    } else {
        let low = SEAM_HZ * libm::exp2((band - OCTAVES) as f64 / 3.0);
        (low, low * libm::exp2(1.0 / 3.0))
    }
}

/// The energy of a sound in every cell, full scale being 1 a frame.
pub struct Cells {
    /// By band, then by time; octaves have a quarter of the times.
    bands: Vec<Vec<f64>>,
    /// Whether it sounds in each 20 ms.
    sounds: Vec<bool>,
    frames: usize,
}

impl Cells {
    /// Cost: two transforms for every 20 ms and side.
    pub fn of(frames: &[Frame], sample_rate: u32) -> Self {
        let rate = f64::from(sample_rate);
        let cell = (CELL_S * rate) as usize;
        let times = frames.len() / cell;
        let window = |seconds: f64| ((seconds * rate) as usize).next_power_of_two() / 2 * 2;
        let (short, long) = (window(1.5 * CELL_S), window(1.5 * CELL_S * LONG as f64));
        let mut bands: Vec<Vec<f64>> = (0..BANDS).map(|_| Vec::with_capacity(times)).collect();
        let read = |window: usize, cell: usize, bands: &mut [Vec<f64>], edges: &dyn Fn(usize) -> (f64, f64)| {
            let mut spectrum = Spectrum::new(window);
            let hz = |bin: usize| bin as f64 * rate / window as f64;
            let band_of =
                |bin: usize| (0..bands.len()).find(|band| (edges(*band).0..edges(*band).1).contains(&hz(bin)));
            let belongs: Vec<Option<usize>> = (0..=window / 2).map(band_of).collect();
            for time in 0..frames.len() / cell {
                let mut found = vec![0.0; bands.len()];
                let from = (time * cell + cell / 2) as isize - (window / 2) as isize;
                let at = |n: usize| {
                    let place = usize::try_from(from + n as isize).ok();
                    place.and_then(|place| frames.get(place)).copied().unwrap_or_default()
                };
                for (power, band) in spectrum.power_of_both(at).zip(&belongs) {
                    if let Some(band) = band {
                        found[*band] += power;
                    }
                }
                // One half of the bins, and what a Hann window leaves of a power.
                let scale = 2.0 / 0.375 / (window * window) as f64 * cell as f64;
                bands.iter_mut().zip(found).for_each(|(band, x)| band.push(x * scale));
            }
        };
        let (octaves, thirds) = bands.split_at_mut(OCTAVES);
        read(long, cell * LONG, octaves, &edges_hz);
        read(short, cell, thirds, &|band| edges_hz(band + OCTAVES));
        let energy: Vec<f64> =
            frames.chunks_exact(cell.max(1)).map(|c| c.as_flattened().iter().map(|x| x * x).sum()).collect();
        let most = energy.iter().copied().fold(0.0, f64::max);
        let least = (most * libm::exp10(-SOUNDS_DB / 10.0)).max(1e-12);
        Cells { bands, sounds: energy.iter().map(|e| *e >= least).collect(), frames: frames.len() }
    }

    /// The mean power in a band in dBFS, a sine of full scale at -3; -120 for silence.
    pub fn level_db(&self, band: usize) -> f64 {
        let sum: f64 = self.bands[band].iter().sum();
        10.0 * libm::log10((sum / (2 * self.frames.max(1)) as f64).max(1e-12))
    }
}

/// What a target shares with a key.
#[derive(Debug, Clone, PartialEq)]
pub struct Overlap {
    /// Of the target's energy while both sound.
    pub percent: f64,
    /// The target's energy that is shared, by band; 1 for all that is shared.
    pub by_band: [f64; BANDS],
}

/// What a target shares with a key; nothing where they never sound at the same time.
pub fn overlap(target: &Cells, key: &Cells) -> Option<Overlap> {
    let near = libm::exp10(NEAR_DB / 10.0);
    let both: Vec<bool> = target.sounds.iter().zip(&key.sounds).map(|(t, k)| *t && *k).collect();
    let long: Vec<bool> = both.chunks(LONG).map(|four| four.iter().any(|b| *b)).collect();
    let (mut all, mut shared, mut by_band) = (0.0, 0.0, [0.0; BANDS]);
    for (band, here) in by_band.iter_mut().enumerate() {
        let times = if band < OCTAVES { &long } else { &both };
        for (both, (t, k)) in times.iter().zip(target.bands[band].iter().zip(&key.bands[band])) {
            if *both {
                all += t;
                if *t > 0.0 && *k > 0.0 && *t <= near * k && *k <= near * t {
                    shared += t;
                    *here += t;
                }
            }
        }
    }
    if all <= 0.0 {
        return None;
    }
    if shared > 0.0 {
        by_band.iter_mut().for_each(|x| *x /= shared);
    }
    Some(Overlap { percent: 100.0 * shared / all, by_band })
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;
    use std::f64::consts::TAU;

    fn tone(hz: f64, level: f64, rate: u32, sounds: impl Fn(f64) -> bool) -> Vec<Frame> {
        let at = |n: usize| {
            let t = n as f64 / f64::from(rate);
            [if sounds(t) { level * libm::sin(TAU * hz * t) } else { 0.0 }; 2]
        };
        (0..2 * rate as usize).map(at).collect()
    }

    fn percent(target: &[Frame], key: &[Frame], rate: u32) -> f64 {
        overlap(&Cells::of(target, rate), &Cells::of(key, rate)).map_or(0.0, |o| o.percent)
    }

    #[rstest]
    fn a_band_that_both_have_is_shared_and_others_are_not(#[values(44_100, 48_000, 96_000)] rate: u32) {
        let always = |_| true;
        let bass = tone(50.0, 0.3, rate, always);
        assert!(percent(&bass, &tone(50.0, 0.3, rate, always), rate) > 99.0);
        assert!(percent(&bass, &tone(55.0, 0.6, rate, always), rate) > 99.0, "an octave is one band");
        assert!(percent(&bass, &tone(1000.0, 0.3, rate, always), rate) < 1.0);
        // 14 dB apart are not near each other, 10 are.
        assert!(percent(&bass, &tone(50.0, 0.3 * 5.0, rate, always), rate) < 1.0);
        assert!(percent(&bass, &tone(50.0, 0.3 * 3.2, rate, always), rate) > 99.0);
    }

    #[test]
    fn what_sounds_alone_does_not_count_and_half_the_energy_is_half() {
        let first = tone(400.0, 0.3, 48_000, |t| t < 1.0);
        let whole = tone(400.0, 0.3, 48_000, |_| true);
        assert!(percent(&whole, &first, 48_000) > 97.0, "the second half is not held against it");
        let two: Vec<Frame> =
            whole.iter().zip(tone(3000.0, 0.3, 48_000, |_| true)).map(|(a, b)| [a[0] + b[0], a[1] + b[1]]).collect();
        assert!((percent(&two, &whole, 48_000) - 50.0).abs() < 1.0);
    }

    #[test]
    fn energy_is_counted_whole_and_where_it_is() {
        // A tone of 0.3 has a mean square of 0.045 a side.
        for hz in [40.0, 90.0, 180.0, 700.0, 5000.0] {
            let cells = Cells::of(&tone(hz, 0.3, 48_000, |_| true), 48_000);
            let all: f64 = cells.bands.iter().flatten().sum();
            assert!((all / (2.0 * 96_000.0 * 0.045) - 1.0).abs() < 0.05, "{hz} Hz: {all}");
            let most = (0..BANDS).max_by(|a, b| cells.level_db(*a).total_cmp(&cells.level_db(*b))).unwrap();
            let (low, high) = edges_hz(most);
            assert!((low..high).contains(&hz), "{hz} Hz in {low} to {high}");
        }
    }

    #[test]
    fn silence_shares_nothing() {
        let cells = Cells::of(&[[0.0; 2]; 4800], 48_000);
        assert_eq!(overlap(&cells, &cells), None);
        let none = Cells::of(&[], 48_000);
        assert_eq!(overlap(&none, &none), None);
    }
}
