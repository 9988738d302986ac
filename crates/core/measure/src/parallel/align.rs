//! Delay and polarity of one sound against another, by cross-correlation.

use lane_analysis::Complex;
use lane_analysis::Transform;
use serde::{Deserialize, Serialize};

/// What is to be said of two sounds.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(rename_all = "snake_case")]
pub enum Verdict {
    /// One of them is silent.
    Silent,
    /// They have nothing in common.
    Unrelated,
    /// They are in time and of one polarity, or moving one would change next to nothing.
    InTime,
    /// The second has to be moved or inverted.
    Off,
    /// The second is a room or echoes, which are never late.
    Space,
}

/// How the second of two sounds lies against the first.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Alignment {
    /// What is to be said.
    pub verdict: Verdict,
    /// Frames by which the second comes later, to a tenth; negative where it comes earlier.
    pub delay_frames: f64,
    /// Whether it is of the other polarity there.
    pub inverted: bool,
    /// Correlation there, 0 to 1.
    pub correlation: f64,
    /// Correlation as they are, -1 to 1.
    pub now: f64,
    /// By how much the sum of both, made equally loud, gains once they are in time and of one polarity, in dB.
    pub gain_db: f64,
}

/// Frames of a transform.
const WINDOW: usize = 8192;
/// Mean squares under this are silence: -100 dBFS.
const SILENT: f64 = 1e-10;
/// Sounds that correlate less have nothing in common.
const UNRELATED: f64 = 0.25;
/// Of places where two sounds are nearly as much alike, the nearest counts: so much less alike is still as much.
const AS_GOOD: f64 = 0.03;
/// A gain of the sum that is worth a change, in dB.
const WORTH_DB: f64 = 0.3;
/// From here on two sounds are the same one, so that every frame counts.
const SAME: f64 = 0.98;
/// What correlation has to gain then.
const SAME_BY: f64 = 1e-5;
/// Values on each side that a value in between is made of.
const AROUND: i64 = 24;

/// How `second` lies against `first`, two stretches of the same time.
///
/// Both sides count together, the correlation being `sum(l1 l2 + r1 r2)` over the roots of both energies.
///
/// * `most` – frames by which they may be apart, below [`WINDOW`] / 4.
pub fn align(first: &[[f32; 2]], second: &[[f32; 2]], most: usize) -> Alignment {
    let length = first.len().min(second.len());
    let energy =
        |of: &[[f32; 2]]| of[..length].as_flattened().iter().map(|x| f64::from(*x) * f64::from(*x)).sum::<f64>();
    let (a, b) = (energy(first), energy(second));
    let silent = SILENT * length.max(1) as f64;
    let plain =
        |verdict| Alignment { verdict, delay_frames: 0.0, inverted: false, correlation: 0.0, now: 0.0, gain_db: 0.0 };
    if a <= silent || b <= silent {
        return plain(Verdict::Silent);
    }
    let most = most.min(WINDOW / 4 - 1);
    let whole = libm::sqrt(a * b);
    let by_lag: Vec<f64> =
        correlations(&first[..length], &second[..length], most).into_iter().map(|r| r / whole).collect();
    let now = by_lag[most];
    let Some(at) = peak(&by_lag, most) else { return Alignment { now, ..plain(Verdict::Unrelated) } };
    let (off, height) = between(&by_lag, at);
    let (delay_frames, correlation) = (at as f64 + off - most as f64, height.abs().min(1.0));
    let inverted = by_lag[at] < 0.0;
    // As far as whole frames and a sign can mend it.
    let gain_db = 10.0 * libm::log10((1.0 + by_lag[at].abs()) / (1.0 + now).max(1e-9));
    let mends = at != most || inverted;
    let same = correlation >= SAME && by_lag[at].abs() - now > SAME_BY;
    let verdict = match () {
        () if correlation < UNRELATED => Verdict::Unrelated,
        () if mends && (same || gain_db >= WORTH_DB) => Verdict::Off,
        () => Verdict::InTime,
    };
    Alignment { verdict, delay_frames, inverted, correlation, now, gain_db }
}

/// A delay in whole frames.
pub(super) fn whole_frames(delay_frames: f64) -> i32 {
    libm::round(delay_frames) as i32
}

impl Alignment {
    /// The same of a second sound that is a room or echoes.
    pub fn of_space(self) -> Self {
        match self.verdict {
            Verdict::Silent => self,
            _ => Alignment { verdict: Verdict::Space, ..self },
        }
    }

    /// Whole frames by which the second comes later.
    pub fn whole_frames(self) -> i32 {
        whole_frames(self.delay_frames)
    }
}

/// Sums of products at every lag from `-most` to `most`, the second that much later.
fn correlations(first: &[[f32; 2]], second: &[[f32; 2]], most: usize) -> Vec<f64> {
    let mut transform = Transform::new(WINDOW);
    let step = WINDOW - 2 * most;
    let mut sum = vec![Complex::new(0.0, 0.0); WINDOW];
    let mut work = [sum.clone(), sum.clone()];
    for from in (0..first.len()).step_by(step) {
        let to = (from + step).min(first.len());
        for (n, value) in work[0].iter_mut().enumerate() {
            let [l, r] = first[..to].get(from + n).copied().unwrap_or([0.0; 2]);
            *value = Complex::new(f64::from(l), f64::from(r));
        }
        for (n, value) in work[1].iter_mut().enumerate() {
            let at = (from + n).checked_sub(most).filter(|_| n < step + 2 * most);
            let [l, r] = at.and_then(|at| second.get(at)).copied().unwrap_or([0.0; 2]);
            *value = Complex::new(f64::from(l), f64::from(r));
        }
        work.iter_mut().for_each(|w| transform.forward(w));
        let [a, b] = &work;
        sum.iter_mut().zip(a.iter().zip(b)).for_each(|(to, (a, b))| *to += a.conj() * b);
    }
    // Back again: the transform of the conjugate is the conjugate of what goes back.
    sum.iter_mut().for_each(|x| *x = x.conj());
    transform.forward(&mut sum);
    sum[..=2 * most].iter().map(|x| x.re / WINDOW as f64).collect()
}

/// The place where both are most alike in either polarity: of those that are nearly so the nearest.
fn peak(by_lag: &[f64], most: usize) -> Option<usize> {
    let is_peak = |n: &usize| {
        let [before, here, after] = [by_lag[n - 1].abs(), by_lag[*n].abs(), by_lag[n + 1].abs()];
        here >= before && here > after
    };
    let peaks: Vec<usize> = (1..by_lag.len() - 1).filter(is_peak).collect();
    let highest = peaks.iter().map(|n| by_lag[*n].abs()).fold(0.0, f64::max);
    peaks.into_iter().filter(|n| by_lag[*n].abs() >= highest - AS_GOOD).min_by_key(|n| n.abs_diff(most))
}

/// How far from a whole lag the peak is, and its height, read between the lags as a sound is read between its samples.
fn between(by_lag: &[f64], at: usize) -> (f64, f64) {
    let value = |off: f64| {
        (-AROUND..=AROUND).fold(0.0, |sum, n| {
            let Some(r) = usize::try_from(at as i64 + n).ok().and_then(|at| by_lag.get(at)) else { return sum };
            let x = off - n as f64;
            let angle = std::f64::consts::PI * x;
            let sinc = if x.abs() < 1e-9 { 1.0 } else { libm::sin(angle) / angle };
            let hann = 0.5 + 0.5 * libm::cos(angle / (AROUND + 1) as f64);
            sum + r * sinc * hann
        })
    };
    let sign = if by_lag[at] < 0.0 { -1.0 } else { 1.0 };
    let tenths = (-12..=12).map(|n| f64::from(n) / 20.0);
    let best = tenths
        .map(|off| (off, sign * value(off)))
        .fold((0.0, sign * by_lag[at]), |best, x| if x.1 > best.1 { x } else { best });
    (best.0, sign * best.1)
}
