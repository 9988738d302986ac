//! Gains of a strip: trim, and left and right out of left and right.

use lane_document::session::{PanLaw, Polarity, Strip, StripSend};
use lane_units::{Frame, db_to_gain};

/// Left and right out of left and right: `[ll, lr, rl, rr]` with `l' = ll·l + lr·r`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Matrix(pub [f64; 4]);

impl Matrix {
    /// Everything as it is.
    pub const WHOLE: Matrix = Matrix([1.0, 0.0, 0.0, 1.0]);
    /// Nothing.
    pub const NOTHING: Matrix = Matrix([0.0; 4]);

    /// Gains for left and right.
    pub fn sides([l, r]: Frame) -> Self {
        Matrix([l, 0.0, 0.0, r])
    }

    /// This after another.
    pub fn after(self, first: Matrix) -> Self {
        let ([a, b, c, d], [e, f, g, h]) = (self.0, first.0);
        Matrix([a * e + b * g, a * f + b * h, c * e + d * g, c * f + d * h])
    }

    /// Level and pan of a send.
    pub fn of_send(send: &StripSend, law: PanLaw) -> Self {
        let level = if send.mute { 0.0 } else { db_to_gain(send.level_db) };
        Matrix::sides(pan_gains(law, send.pan_percent / 100.0).map(|g| g * level))
    }

    /// Width, pan, fader and mute of a strip in one.
    pub fn of(strip: &Strip, law: PanLaw, heard: bool) -> Self {
        let fader = if heard { db_to_gain(strip.fader_db) } else { 0.0 };
        Matrix::placed(strip, law, fader)
    }

    /// Width and pan of a strip at a gain.
    pub fn placed(strip: &Strip, law: PanLaw, gain: f64) -> Self {
        let [pan_l, pan_r] = pan_gains(law, strip.pan_percent / 100.0);
        // Mid stays, side is scaled: l' = m + w·s, r' = m - w·s. The mono sum does not change.
        let w = strip.width_percent / 100.0;
        let (same, cross) = ((1.0 + w) / 2.0, (1.0 - w) / 2.0);
        let (l, r) = (gain * pan_l, gain * pan_r);
        Matrix([l * same, l * cross, r * cross, r * same])
    }

    /// Left and right out of left and right.
    #[inline]
    pub fn apply([ll, lr, rl, rr]: [f64; 4], [l, r]: Frame) -> Frame {
        [ll * l + lr * r, rl * l + rr * r]
    }
}

/// Gain after trim and polarity.
pub(crate) fn trim_gain(strip: &Strip) -> f64 {
    let gain = db_to_gain(strip.trim_db);
    match strip.polarity {
        Polarity::Normal => gain,
        Polarity::Inverted => -gain,
    }
}

/// Gains for left and right; exactly 1 in the centre. `pan` from -1 (left) to 1 (right).
pub(crate) fn pan_gains(law: PanLaw, pan: f64) -> Frame {
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
    use lane_document::session::StripKind;
    use lane_units::{StripId, gain_to_db};
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
        let mut strip = Strip::new(StripId(1), StripKind::Bus, "B".into(), None);
        assert_eq!(Matrix::of(&strip, PanLaw::Minus3, true), Matrix([1.0, 0.0, 0.0, 1.0]));
        strip.width_percent = 37.0;
        let [l, r] = Matrix::apply(Matrix::of(&strip, PanLaw::Minus3, true).0, [0.8, -0.3]);
        assert!((l + r - 0.5).abs() < 1e-12);
    }

    #[test]
    fn one_matrix_after_another() {
        let first = Matrix([0.5, 0.25, -1.0, 2.0]);
        let second = Matrix([1.0, 3.0, 0.5, 0.0]);
        let x = [0.3, -0.7];
        let expected = Matrix::apply(second.0, Matrix::apply(first.0, x));
        let found = Matrix::apply(second.after(first).0, x);
        assert!((found[0] - expected[0]).abs() < 1e-15 && (found[1] - expected[1]).abs() < 1e-15);
    }
}
