//! Where hits begin in a loop.
//!
//! Source: spectral flux with an adaptive threshold after Dixon, "Onset Detection Revisited", 2006, here on
//! compressed magnitudes; then the rise is looked for in the samples themselves.

use super::spectrum::Spectrum;
use crate::median::median;
use lane_document::session::Audio;

/// Seconds of a window and of a step.
const WINDOW_SECONDS: f64 = 0.0213;
const HOP_SECONDS: f64 = 0.00267;
/// Nothing begins within so many seconds of another beginning.
const GAP_SECONDS: f64 = 0.045;
/// Steps on each side that the threshold is made of.
const AROUND: usize = 30;
/// Seconds before a peak of the flux in which the rise is looked for.
const BACK_SECONDS: f64 = 0.030;

/// Frames at which hits begin, in order.
///
/// * `sensitivity` – 0 (only the strongest) to 1 (the faintest too).
pub fn onsets(audio: &Audio, sample_rate: u32, sensitivity: f64) -> Vec<usize> {
    let rate = f64::from(sample_rate);
    let window = ((WINDOW_SECONDS * rate) as usize).next_multiple_of(2).max(16);
    let hop = ((HOP_SECONDS * rate) as usize).max(1);
    let flux = flux(audio, window, hop);
    let highest = flux.iter().copied().fold(0.0, f64::max);
    if highest <= 0.0 {
        return Vec::new();
    }
    let strictness = 1.0 - sensitivity.clamp(0.0, 1.0);
    // From 1.5 to 33.5 % of the strongest, above what is usual around; the middle is fit for drums.
    let floor = (0.015 + 0.32 * strictness * strictness * strictness) * highest;
    let gap = (GAP_SECONDS * rate) as usize;
    let mut found: Vec<usize> = Vec::new();
    let mut last_strength = 0.0;
    for at in 0..flux.len() {
        let near = &flux[at.saturating_sub(3)..(at + 4).min(flux.len())];
        let wide = &flux[at.saturating_sub(AROUND)..(at + AROUND + 1).min(flux.len())];
        let usual = median(wide.iter().copied()).unwrap_or(0.0);
        let is_peak = near.iter().all(|f| *f <= flux[at]) && flux[at] > usual + floor;
        if !is_peak {
            continue;
        }
        let frame = rise(audio, at * hop, (BACK_SECONDS * rate) as usize, rate);
        match found.last_mut() {
            Some(last) if frame < *last + gap => {
                if flux[at] > 2.0 * last_strength {
                    (*last, last_strength) = (frame.max(*last), flux[at]);
                }
            }
            _ => {
                found.push(frame);
                last_strength = flux[at];
            }
        }
    }
    found
}

/// Rise of the spectrum from step to step; the window of step n is centred on frame n · hop.
fn flux(audio: &Audio, window: usize, hop: usize) -> Vec<f64> {
    let mut spectrum = Spectrum::new(window);
    let mut before = vec![0.0; window / 2 + 1];
    (0..audio.frames().div_ceil(hop))
        .map(|step| {
            let first = (step * hop) as isize - (window / 2) as isize;
            let power = spectrum.power(|n| {
                let [l, r] = audio.frame(first + n as isize);
                0.5 * (f64::from(l) + f64::from(r))
            });
            let mut rise = 0.0;
            for (value, old) in power.zip(before.iter_mut()) {
                // Compressed, so that soft sounds beside loud ones count.
                let magnitude = libm::log1p(1000.0 * libm::sqrt(value) / window as f64);
                rise += (magnitude - *old).max(0.0);
                *old = magnitude;
            }
            rise
        })
        .collect()
}

/// The frame at which the level rises towards a peak of the flux.
fn rise(audio: &Audio, peak: usize, back: usize, rate: f64) -> usize {
    let piece = ((0.001 * rate) as usize).max(1);
    let from = peak.saturating_sub(back);
    let to = (peak + back / 2).min(audio.frames());
    // Level of pieces of 1 ms; differences from sample to sample let a hit show over a long low note.
    let level = |at: usize| {
        let frames = at..(at + piece).min(audio.frames());
        frames
            .map(|n| {
                let ([a, b], [c, d]) = (audio.frame(n as isize), audio.frame(n as isize - 1));
                f64::from((a - c).abs() + (b - d).abs())
            })
            .fold(0.0, f64::max)
    };
    let levels: Vec<f64> = (from..to).step_by(piece).map(level).collect();
    let Some(highest) = levels.iter().copied().reduce(f64::max).filter(|h| *h > 0.0) else { return peak };
    let top = levels.iter().position(|l| *l == highest).unwrap_or(0);
    // Back from the top to the last piece that is still low.
    let lowest = levels[..=top].iter().copied().fold(f64::INFINITY, f64::min);
    let edge = lowest + 0.2 * (highest - lowest);
    let start = levels[..=top].iter().rposition(|l| *l < edge).map_or(0, |n| n + 1);
    from + start * piece
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_units::Dice;
    use rstest::rstest;
    use std::f64::consts::TAU;

    const RATE: u32 = 48_000;

    /// Bursts of noise and falling tones at known frames over a quiet drone.
    fn beat(at: &[usize], frames: usize) -> Audio {
        let mut dice = Dice::new(&[5]);
        let mut out: Vec<f32> =
            (0..frames).map(|n| (0.02 * libm::sin(TAU * 110.0 * n as f64 / 48_000.0)) as f32).collect();
        for (i, start) in at.iter().enumerate() {
            let level = [0.9, 0.25, 0.6][i % 3];
            for n in 0..9000.min(frames - start) {
                let t = n as f64 / 48_000.0;
                let s = match i % 3 {
                    0 => libm::sin(TAU * 60.0 * t + 3.0 * libm::exp(-t * 60.0)) * libm::exp(-t * 18.0),
                    1 => dice.spread() * libm::exp(-t * 90.0),
                    _ => (0.5 * dice.spread() + 0.5 * libm::sin(TAU * 190.0 * t)) * libm::exp(-t * 30.0),
                };
                out[start + n] += (level * s) as f32;
            }
        }
        Audio::new(1, out).unwrap()
    }

    #[rstest]
    #[case(6000)]
    #[case(5111)]
    fn hits_are_found_within_ten_milliseconds(#[case] step: usize) {
        let at: Vec<usize> = (0..30).map(|n| 500 + n * step).collect();
        let found = onsets(&beat(&at, 31 * step), RATE, 0.6);
        let near = |frame: &usize| found.iter().any(|f| f.abs_diff(*frame) <= 480);
        assert!(at.iter().filter(|f| near(f)).count() * 100 >= at.len() * 95, "{found:?}");
        let false_ones = found.iter().filter(|f| !at.iter().any(|a| a.abs_diff(**f) <= 480)).count();
        assert!(false_ones * 20 <= at.len(), "{false_ones} of {}", found.len());
    }

    #[test]
    fn more_sensitive_finds_more() {
        let at: Vec<usize> = (0..12).map(|n| 500 + n * 9000).collect();
        let audio = beat(&at, 120_000);
        let count = |sensitivity| onsets(&audio, RATE, sensitivity).len();
        assert!(count(0.0) < count(0.6));
        assert!(count(0.6) <= count(1.0));
    }

    #[test]
    fn silence_and_nothing_have_none() {
        assert!(onsets(&Audio::new(1, vec![0.0; 48_000]).unwrap(), RATE, 1.0).is_empty());
        assert!(onsets(&Audio::new(2, vec![]).unwrap(), RATE, 1.0).is_empty());
    }
}
