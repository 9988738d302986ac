//! What two sounds do to each other's spectrum when they are added.

use super::align::Alignment;
use lane_analysis::{Complex, Transform};
use lane_units::db_to_gain;
use serde::Serialize;
use std::f64::consts::TAU;

/// The spectrum of two sounds together against that of the first alone.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Comb {
    /// Centres of bands in Hz, ascending.
    pub hz: Vec<f64>,
    /// Together as they are, in dB over the first alone; nothing where the first has next to nothing.
    pub now_db: Vec<Option<f64>>,
    /// Together once they are in time and of one polarity.
    pub mended_db: Vec<Option<f64>>,
    /// Where the first sounds and both together have a hollow of 3 dB or more, in Hz; the deepest first, eight at most.
    pub hollows_hz: Vec<f64>,
}

const WINDOW: usize = 4096;
const PER_OCTAVE: f64 = 24.0;
const FROM_HZ: f64 = 30.0;
const TO_HZ: f64 = 18_000.0;
/// Bands so far under the loudest of the first sound say nothing, in power: 60 dB.
const HEARD: f64 = 1e-6;
const HOLLOW_DB: f64 = -3.0;
const HOLLOWS: usize = 8;

/// * `gain_db` – of the second sound.
pub fn comb(first: &[[f32; 2]], second: &[[f32; 2]], gain_db: f64, alignment: &Alignment, sample_rate: u32) -> Comb {
    let (gain, bins) = (db_to_gain(gain_db), WINDOW / 2 + 1);
    let hann: Vec<f64> = (0..WINDOW).map(|n| 0.5 - 0.5 * libm::cos(TAU * n as f64 / WINDOW as f64)).collect();
    let mut transform = Transform::new(WINDOW);
    let (mut own, mut other) = (vec![0.0; bins], vec![0.0; bins]);
    let mut cross = vec![Complex::new(0.0, 0.0); bins];
    let length = first.len().min(second.len());
    let mut work = vec![Complex::new(0.0, 0.0); WINDOW];
    for from in (0..length).step_by(WINDOW / 2) {
        for side in 0..2 {
            // Both sounds are real: one transform has both.
            for (n, (value, hann)) in work.iter_mut().zip(&hann).enumerate() {
                let at = |of: &[[f32; 2]]| of[..length].get(from + n).map_or(0.0, |x| f64::from(x[side]));
                *value = Complex::new(at(first) * hann, at(second) * hann);
            }
            transform.forward(&mut work);
            for k in 0..bins {
                let (z, mirror) = (work[k], work[(WINDOW - k) % WINDOW].conj());
                let (a, b) = (0.5 * (z + mirror), Complex::new(0.0, -0.5) * (z - mirror));
                own[k] += a.norm_sqr();
                other[k] += b.norm_sqr();
                cross[k] += a.conj() * b;
            }
        }
    }
    let (sign, late) = (if alignment.inverted { -1.0 } else { 1.0 }, f64::from(alignment.whole_frames()));
    let to_hz = TO_HZ.min(0.45 * f64::from(sample_rate));
    let count = (libm::log2(to_hz / FROM_HZ) * PER_OCTAVE) as usize;
    let bin_hz = f64::from(sample_rate) / WINDOW as f64;
    let loudest = own.iter().fold(0.0, |most: f64, x| most.max(*x));
    let mut found = Comb { hz: Vec::new(), now_db: Vec::new(), mended_db: Vec::new(), hollows_hz: Vec::new() };
    for band in 0..=count {
        let hz = FROM_HZ * libm::exp2(band as f64 / PER_OCTAVE);
        let edge = |by: f64| hz * libm::exp2(by / (2.0 * PER_OCTAVE)) / bin_hz;
        let first_bin = (libm::ceil(edge(-1.0)) as usize).min(bins - 1);
        let last_bin = (libm::floor(edge(1.0)) as usize).min(bins - 1);
        let nearest = (libm::round(hz / bin_hz) as usize).min(bins - 1);
        let range = if first_bin > last_bin { nearest..=nearest } else { first_bin..=last_bin };
        let (mut alone, mut now, mut mended, mut widest) = (0.0, 0.0, 0.0, 0.0_f64);
        for k in range {
            let turn = TAU * k as f64 / WINDOW as f64 * late;
            let moved = cross[k] * Complex::new(libm::cos(turn), libm::sin(turn)) * sign;
            let both = own[k] + gain * gain * other[k];
            alone += own[k];
            now += (both + 2.0 * gain * cross[k].re).max(0.0);
            mended += (both + 2.0 * gain * moved.re).max(0.0);
            widest = widest.max(own[k]);
        }
        let db = |power: f64| 10.0 * libm::log10((power / alone.max(1e-30)).clamp(1e-6, 1e6));
        found.hz.push(hz);
        let heard = widest > HEARD * loudest && alone > 0.0;
        found.now_db.push(heard.then(|| db(now)));
        found.mended_db.push(heard.then(|| db(mended)));
    }
    let value = |n: usize| found.now_db[n].unwrap_or(0.0);
    let low = |n: &usize| value(*n) <= HOLLOW_DB && value(*n) <= value(n - 1) && value(*n) < value(n + 1);
    let mut hollows: Vec<usize> = (1..found.hz.len().saturating_sub(1)).filter(low).collect();
    hollows.sort_by(|a, b| value(*a).total_cmp(&value(*b)));
    found.hollows_hz = hollows.into_iter().take(HOLLOWS).map(|n| found.hz[n]).collect();
    found
}
