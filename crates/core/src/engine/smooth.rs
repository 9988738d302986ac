//! Gains that move without a click: straight lines of 5 ms, the same for every block size.

use crate::session::{PanLaw, Polarity, Strip};
use crate::units::{Frame, db_to_gain};

/// Length of a move in seconds.
const RAMP_SECONDS: f64 = 0.005;

/// Some gains on their way to a target.
pub(super) struct Ramp<const N: usize> {
    now: [f64; N],
    step: [f64; N],
    target: [f64; N],
    left: u32,
}

impl<const N: usize> Ramp<N> {
    /// At rest.
    pub fn at(target: [f64; N]) -> Self {
        Ramp { now: target, step: [0.0; N], target, left: 0 }
    }

    /// Starts a move from where it is now. Calling it again with the same target changes nothing.
    pub fn go_to(&mut self, target: [f64; N], sample_rate: u32) {
        if target == self.target {
            return;
        }
        let frames = libm::round(RAMP_SECONDS * f64::from(sample_rate)).max(1.0);
        self.left = frames as u32;
        self.target = target;
        for (step, (to, now)) in self.step.iter_mut().zip(target.iter().zip(&self.now)) {
            *step = (to - now) / frames;
        }
    }

    /// Computes `to` from `from` frame by frame with the gains of each frame.
    #[inline]
    pub fn run(&mut self, from: &[Frame], to: &mut [Frame], apply: impl Fn([f64; N], Frame) -> Frame) {
        let moving = (self.left as usize).min(from.len());
        for (f, t) in from[..moving].iter().zip(&mut to[..moving]) {
            self.left -= 1;
            for (now, step) in self.now.iter_mut().zip(&self.step) {
                *now += step;
            }
            if self.left == 0 {
                self.now = self.target;
            }
            *t = apply(self.now, *f);
        }
        let now = self.now;
        for (f, t) in from[moving..].iter().zip(&mut to[moving..]) {
            *t = apply(now, *f);
        }
    }
}

/// Left and right out of left and right: `[ll, lr, rl, rr]` with `l' = ll·l + lr·r`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Matrix(pub [f64; 4]);

impl Matrix {
    /// Width, pan, fader and mute of a strip in one.
    pub fn of(strip: &Strip, law: PanLaw, heard: bool) -> Self {
        let fader = if heard { db_to_gain(strip.fader_db) } else { 0.0 };
        let [pan_l, pan_r] = pan_gains(law, strip.pan_percent / 100.0);
        // Mid stays, side is scaled: l' = m + w·s, r' = m - w·s. The mono sum does not change.
        let w = strip.width_percent / 100.0;
        let (same, cross) = ((1.0 + w) / 2.0, (1.0 - w) / 2.0);
        let (l, r) = (fader * pan_l, fader * pan_r);
        Matrix([l * same, l * cross, r * cross, r * same])
    }

    #[inline]
    pub fn apply([ll, lr, rl, rr]: [f64; 4], [l, r]: Frame) -> Frame {
        [ll * l + lr * r, rl * l + rr * r]
    }
}

/// Gain after trim and polarity.
pub(super) fn trim_gain(strip: &Strip) -> f64 {
    let gain = db_to_gain(strip.trim_db);
    match strip.polarity {
        Polarity::Normal => gain,
        Polarity::Inverted => -gain,
    }
}

/// Gains for left and right; exactly 1 in the centre. `pan` from -1 (left) to 1 (right).
pub(super) fn pan_gains(law: PanLaw, pan: f64) -> Frame {
    if pan == 0.0 {
        return [1.0; 2];
    }
    let angle = (pan + 1.0) * std::f64::consts::FRAC_PI_4;
    let (cos, sin) = (libm::cos(angle), libm::sin(angle));
    // Gains of the constant-power law with the centre at 1; other laws are powers of it.
    let (l, r) = (cos.max(0.0) * std::f64::consts::SQRT_2, sin.max(0.0) * std::f64::consts::SQRT_2);
    match law {
        PanLaw::Zero => [(1.0 - pan).min(1.0), (1.0 + pan).min(1.0)],
        PanLaw::Minus3 => [l, r],
        PanLaw::Minus4_5 => [libm::pow(l, 1.5), libm::pow(r, 1.5)],
        PanLaw::Minus6 => [l * l, r * r],
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::session::StripKind;
    use crate::units::{StripId, gain_to_db};
    use rstest::rstest;

    #[rstest]
    #[case::zero(PanLaw::Zero, 0.0)]
    #[case::minus3(PanLaw::Minus3, 3.0103)]
    #[case::minus4_5(PanLaw::Minus4_5, 4.5154)]
    #[case::minus6(PanLaw::Minus6, 6.0206)]
    fn sides_stand_above_the_centre_by_the_law(#[case] law: PanLaw, #[case] above_db: f64) {
        let [near, far] = pan_gains(law, -1.0);
        assert!((gain_to_db(near) - above_db).abs() < 1e-3);
        assert!(far < 1e-12);
        assert_eq!(pan_gains(law, 0.0), [1.0, 1.0]);
    }

    #[test]
    fn constant_power_keeps_power() {
        for pan in [-0.9, -0.3, 0.2, 0.7] {
            let [l, r] = pan_gains(PanLaw::Minus3, pan);
            assert!((l * l + r * r - 2.0).abs() < 1e-12);
        }
    }

    #[test]
    fn a_strip_at_rest_is_transparent_and_width_keeps_the_mono_sum() {
        let mut strip = Strip::new(StripId(1), StripKind::Bus, "B", None);
        assert_eq!(Matrix::of(&strip, PanLaw::Minus3, true), Matrix([1.0, 0.0, 0.0, 1.0]));
        strip.width_percent = 37.0;
        let [l, r] = Matrix::apply(Matrix::of(&strip, PanLaw::Minus3, true).0, [0.8, -0.3]);
        assert!((l + r - 0.5).abs() < 1e-12);
    }

    #[test]
    fn a_move_takes_five_milliseconds_and_lands_exactly() {
        let mut ramp = Ramp::at([0.0]);
        ramp.go_to([0.7], 48_000);
        let mut out = [[0.0; 2]; 300];
        ramp.run(&[[1.0; 2]; 300], &mut out, |[g], [l, r]| [l * g, r * g]);
        assert_eq!(out[239], [0.7; 2]);
        let steepest = out.windows(2).map(|w| (w[1][0] - w[0][0]).abs()).fold(0.0, f64::max);
        assert!(steepest <= 0.7 / 240.0 + 1e-12);
    }
}
