//! The pitch of a drum or a note, after any sweep at its onset.
//!
//! Sources: normalised square difference function after McLeod and Wyvill, "A Smarter Way to Find Pitch", 2005;
//! then the slope of the phase against a steady tone of that pitch, which is exact for a steady rest.

use crate::median::median;
use lane_document::midi::pitch_name;
use lane_document::session::Audio;
use serde::{Deserialize, Serialize};
use std::f64::consts::TAU;

/// A measured pitch.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pitch {
    /// The frequency in Hz.
    pub hz: f64,
    /// How periodic the sound is, 0 to 1.
    pub clarity: f64,
}

/// Less than this is noise rather than a pitch.
const CLEAR: f64 = 0.8;
/// Rate of estimates while the pitch is followed, in seconds.
const HOP_SECONDS: f64 = 0.005;
/// What lies so far under the loudest part is not looked at, as a power.
const QUIET: f64 = 1e-4;

/// The pitch to which a sound settles within a range in Hz; none for noise and silence.
///
/// * `seconds` – how much of it is listened to, from its beginning.
pub fn settled_pitch(audio: &Audio, sample_rate: u32, (low_hz, high_hz): (f64, f64), seconds: f64) -> Option<Pitch> {
    let factor = (f64::from(sample_rate) / (16.0 * high_hz)).max(1.0) as usize;
    let samples = decimate(audio, factor, (seconds * f64::from(sample_rate)) as usize);
    let rate = f64::from(sample_rate) / factor as f64;
    let track = follow(&samples, rate, low_hz, high_hz);
    let end = median(track.iter().rev().take(track.len().div_ceil(4)).map(|e| e.hz))?;
    let from = |within: f64| {
        let unsettled = track.iter().rposition(|e| (e.hz / end - 1.0).abs() > within);
        track[unsettled.map_or(0, |n| n + 1)..].first().map(|e| e.at)
    };
    let last = track.last()?.at;
    let enough = (4.0 * rate / end) as usize;
    // The closest to steady that leaves some periods to measure.
    let start = [0.0015, 0.003, 0.006, 0.012, 0.03].into_iter().filter_map(from).find(|at| at + enough <= last)?;
    let hz = refine(&samples[start..], rate, end).filter(|hz| (hz / end - 1.0).abs() < 0.03).unwrap_or(end);
    let clarity = track.iter().filter(|e| e.at >= start).map(|e| e.clarity).fold(0.0, f64::max);
    Some(Pitch { hz, clarity })
}

struct Estimate {
    at: usize,
    hz: f64,
    clarity: f64,
}

/// Both sides together, low-passed by a windowed sinc and thinned out.
fn decimate(audio: &Audio, factor: usize, longest: usize) -> Vec<f64> {
    let reach = 8 * factor as isize;
    let weights: Vec<f64> = (-reach..=reach)
        .map(|n| {
            let x = n as f64 / factor as f64;
            let sinc = if n == 0 { 1.0 } else { libm::sin(0.9 * TAU / 2.0 * x) / (0.9 * TAU / 2.0 * x) };
            let hann = 0.5 + 0.5 * libm::cos(TAU / 2.0 * n as f64 / (reach + 1) as f64);
            0.9 * sinc * hann / factor as f64
        })
        .collect();
    let mono = |n: isize| {
        let [l, r] = audio.frame(n);
        0.5 * (f64::from(l) + f64::from(r))
    };
    (0..audio.frames().min(longest))
        .step_by(factor)
        .map(|n| {
            if factor == 1 {
                return mono(n as isize);
            }
            weights.iter().zip(-reach..=reach).map(|(w, d)| w * mono(n as isize + d)).sum()
        })
        .collect()
}

/// The pitch along a sound, where it has one.
fn follow(samples: &[f64], rate: f64, low_hz: f64, high_hz: f64) -> Vec<Estimate> {
    let longest = (rate / low_hz) as usize + 2;
    let window = 2 * longest;
    let hop = ((HOP_SECONDS * rate) as usize).max(1);
    let power = |at: usize| samples[at..at + window].iter().map(|s| s * s).sum::<f64>();
    let starts = || (0..samples.len().saturating_sub(window)).step_by(hop);
    let loudest = starts().map(power).fold(0.0, f64::max);
    starts()
        .filter(|at| power(*at) > QUIET * loudest && loudest > 0.0)
        .filter_map(|at| {
            let (period, clarity) = period(&samples[at..at + window], rate / high_hz, longest)?;
            (clarity >= CLEAR).then_some(Estimate { at, hz: rate / period, clarity })
        })
        .collect()
}

/// Period in samples and its clarity: the first peak of the normalised square difference that comes close to
/// the highest.
fn period(x: &[f64], shortest: f64, longest: usize) -> Option<(f64, f64)> {
    let nsdf: Vec<f64> = (0..=longest.min(x.len() - 1))
        .map(|lag| {
            let (mut product, mut squares) = (0.0, 0.0);
            for (a, b) in x.iter().zip(&x[lag..]) {
                product += a * b;
                squares += a * a + b * b;
            }
            if squares > 0.0 { 2.0 * product / squares } else { 0.0 }
        })
        .collect();
    let is_peak = |n: &usize| nsdf[*n] > nsdf[n - 1] && nsdf[*n] >= nsdf[n + 1] && nsdf[*n] > 0.0;
    let peaks: Vec<usize> = (1..nsdf.len() - 1).filter(is_peak).filter(|n| *n as f64 >= shortest).collect();
    let highest = peaks.iter().map(|n| nsdf[*n]).fold(0.0, f64::max);
    let at = peaks.into_iter().find(|n| nsdf[*n] >= 0.93 * highest)?;
    let (a, b, c) = (nsdf[at - 1], nsdf[at], nsdf[at + 1]);
    let bend = a - 2.0 * b + c;
    let offset = if bend < 0.0 { 0.5 * (a - c) / bend } else { 0.0 };
    Some((at as f64 + offset, b))
}

/// The pitch from the slope of the phase against a tone of about that pitch, weighted by power.
fn refine(samples: &[f64], rate: f64, hz: f64) -> Option<f64> {
    let window = ((3.0 * rate / hz) as usize).max(8);
    let hop = (window / 6).max(1);
    let mut points: Vec<(f64, f64, f64)> = Vec::new();
    for at in (0..samples.len().saturating_sub(window)).step_by(hop) {
        let (mut re, mut im) = (0.0, 0.0);
        for (n, s) in samples[at..at + window].iter().enumerate() {
            let hann = 0.5 - 0.5 * libm::cos(TAU * (n as f64 + 0.5) / window as f64);
            let angle = TAU * hz * (at + n) as f64 / rate;
            re += s * hann * libm::cos(angle);
            im -= s * hann * libm::sin(angle);
        }
        points.push((at as f64 / rate, libm::atan2(im, re), re * re + im * im));
    }
    let loudest = points.iter().map(|p| p.2).fold(0.0, f64::max);
    points.retain(|p| p.2 > 1e-3 * loudest);
    // Unwrapped, so that the phase goes on over half turns.
    for n in 1..points.len() {
        let step = points[n].1 - points[n - 1].1;
        points[n].1 -= TAU * libm::round(step / TAU);
    }
    let sum = |f: &dyn Fn(&(f64, f64, f64)) -> f64| points.iter().map(f).sum::<f64>();
    // The root of the power lets the later, steadier part count too.
    let weight = |p: &(f64, f64, f64)| libm::sqrt(p.2);
    let total = sum(&weight);
    if points.len() < 3 || total <= 0.0 {
        return None;
    }
    let (t, phase) = (sum(&|p| weight(p) * p.0) / total, sum(&|p| weight(p) * p.1) / total);
    let spread = sum(&|p| weight(p) * (p.0 - t) * (p.0 - t));
    let slope = sum(&|p| weight(p) * (p.0 - t) * (p.1 - phase)) / spread;
    Some(hz + slope / TAU)
}

/// A pitch as people name it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct NamedPitch {
    /// The frequency in Hz.
    pub hz: f64,
    /// The nearest note at A4 = 440 Hz, such as "F1".
    pub note: String,
    /// How far it is above the note, -50 to 50 ct.
    pub cents: f64,
}

impl NamedPitch {
    /// The nearest note, and how far off it is.
    pub fn of_hz(hz: f64) -> Self {
        let key = 69.0 + 12.0 * libm::log2(hz / 440.0);
        let nearest = libm::round(key).clamp(0.0, 127.0);
        NamedPitch { hz, note: pitch_name(nearest as u8), cents: 100.0 * (key - nearest) }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_units::Dice;
    use rstest::rstest;

    fn cents(hz: f64, to: f64) -> f64 {
        1200.0 * libm::log2(hz / to)
    }

    /// A sine that falls from `ratio` times its pitch and dies away.
    fn kick(hz: f64, ratio: f64, sweep_ms: f64, decay_ms: f64, rate: u32) -> Audio {
        let mut phase = 0.0;
        let sample = |n: usize| {
            let t = n as f64 / f64::from(rate);
            let f = hz * (1.0 + (ratio - 1.0) * libm::exp(-t * 1000.0 / sweep_ms));
            phase += TAU * f / f64::from(rate);
            let click = if n < 40 { 0.2 * libm::cos(n as f64) } else { 0.0 };
            (libm::sin(phase) * libm::exp(-t * 1000.0 / decay_ms) + click) as f32
        };
        Audio::new(1, (0..(rate as usize * 8 / 10)).map(sample).collect()).unwrap()
    }

    #[rstest]
    fn a_kick_with_a_sweep_is_within_five_cents(
        #[values(35.0, 41.2, 48.99, 55.0, 63.5, 80.0)] hz: f64,
        #[values((4.0, 12.0, 180.0), (6.0, 20.0, 160.0), (2.5, 25.0, 250.0))] shape: (f64, f64, f64),
    ) {
        let (ratio, sweep_ms, decay_ms) = shape;
        for rate in [44_100, 96_000] {
            let found = settled_pitch(&kick(hz, ratio, sweep_ms, decay_ms, rate), rate, (25.0, 250.0), 2.0).unwrap();
            assert!(cents(found.hz, hz).abs() < 5.0, "{hz} Hz: {} ct", cents(found.hz, hz));
        }
    }

    #[rstest]
    #[case(41.2)]
    #[case(98.0)]
    #[case(196.0)]
    fn a_bass_note_with_overtones_is_within_two_cents(#[case] hz: f64) {
        let sample = |n: usize| {
            let t = n as f64 / 48_000.0;
            let tone = |k: f64, level: f64| level * libm::sin(TAU * hz * k * t + k);
            ((tone(1.0, 0.5) + tone(2.0, 0.4) + tone(3.0, 0.3)) * libm::exp(-t * 2.0)) as f32
        };
        let audio = Audio::new(1, (0..48_000).map(sample).collect()).unwrap();
        let found = settled_pitch(&audio, 48_000, (25.0, 500.0), 2.0).unwrap();
        assert!(cents(found.hz, hz).abs() < 2.0, "{} ct", cents(found.hz, hz));
    }

    #[test]
    fn noise_and_silence_have_none() {
        let mut dice = Dice::new(&[1]);
        let noise = Audio::new(1, (0..24_000).map(|_| dice.spread() as f32).collect()).unwrap();
        assert_eq!(settled_pitch(&noise, 48_000, (25.0, 250.0), 2.0), None);
        assert_eq!(settled_pitch(&Audio::new(2, vec![0.0; 48_000]).unwrap(), 48_000, (25.0, 250.0), 2.0), None);
        assert_eq!(settled_pitch(&Audio::new(1, vec![]).unwrap(), 48_000, (25.0, 250.0), 2.0), None);
    }

    #[rstest]
    #[case(440.0, "A4", 0.0)]
    #[case(43.65, "F1", 0.0)]
    #[case(44.9, "F1", 48.8)]
    fn a_pitch_has_a_note_and_its_distance(#[case] hz: f64, #[case] note: &str, #[case] cents: f64) {
        let named = NamedPitch::of_hz(hz);
        assert_eq!(named.note, note);
        assert!((named.cents - cents).abs() < 0.5, "{}", named.cents);
    }
}
