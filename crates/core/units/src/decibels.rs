//! Decibels and linear gain by short series of sums and products: the same bits on every machine, at a fraction of
//! what general logarithms and powers take.

use std::f64::consts::{LN_2, LOG2_10, LOG10_2};

/// At or below this level in dB a gain is exactly zero; screens show it as "off".
pub const OFF_DB: f64 = -100.0;

/// Levels in dB beyond which the general power is asked.
const FAR_DB: f64 = 6000.0;

/// The linear gain of a level in dB, to 1 part in 10¹³; 0 dB is exactly 1.0, [`OFF_DB`] and below exactly 0.0.
#[inline]
pub fn db_to_gain(db: f64) -> f64 {
    if db <= OFF_DB {
        0.0
    } else if db < FAR_DB {
        exp2(db * (LOG2_10 / 20.0))
    } else {
        libm::exp10(db / 20.0)
    }
}

/// [`db_to_gain`] of many levels at once, in place, each up to 6000 dB: several take hardly longer than one.
#[inline]
pub fn all_db_to_gain(levels: &mut [f64]) {
    for level in levels {
        let gain = exp2(level.max(2.0 * OFF_DB) * (LOG2_10 / 20.0));
        *level = if *level <= OFF_DB { 0.0 } else { gain };
    }
}

/// The level in dB of a linear gain, to 1e-11 dB; negative infinity for zero.
#[inline]
pub fn gain_to_db(gain: f64) -> f64 {
    let gain = gain.abs();
    if (f64::MIN_POSITIVE..f64::INFINITY).contains(&gain) {
        log2(gain) * (20.0 * LOG10_2)
    } else {
        20.0 * libm::log10(gain)
    }
}

/// [`gain_to_db`] of many gains at once, in place: several take hardly longer than one. What is under the smallest
/// normal number, as zero is, counts as that: about -6150 dB.
#[inline]
pub fn all_gain_to_db(gains: &mut [f64]) {
    for gain in gains {
        *gain = log2(gain.abs().max(f64::MIN_POSITIVE)) * (20.0 * LOG10_2);
    }
}

/// 2 to the power of `x`, of at most some hundreds either way: the whole part into the exponent, the rest by the
/// exponential series.
#[inline]
fn exp2(x: f64) -> f64 {
    /// A number so large that adding it leaves whole numbers only, the nearest.
    const WHOLE: f64 = 6_755_399_441_055_744.0;
    let shifted = x + WHOLE;
    let y = (x - (shifted - WHOLE)) * LN_2;
    let (y2, y4) = (y * y, (y * y) * (y * y));
    let low = (1.0 + y) + y2 * (1.0 / 2.0 + y * (1.0 / 6.0));
    let middle = (1.0 / 24.0 + y * (1.0 / 120.0)) + y2 * (1.0 / 720.0 + y * (1.0 / 5040.0));
    let high = (1.0 / 40_320.0 + y * (1.0 / 362_880.0)) + y2 * (1.0 / 3_628_800.0 + y * (1.0 / 39_916_800.0));
    let part = low + y4 * (middle + y4 * high);
    f64::from_bits(part.to_bits().wrapping_add(shifted.to_bits() << 52))
}

/// The logarithm to base 2 of a normal number over 0: its exponent, and the series of the area tangent for the rest.
#[inline]
fn log2(x: f64) -> f64 {
    /// The root of a half, as bits.
    const LOWEST: u64 = 0x3FE6_A09E_667F_3BCD;
    /// The exponent of 1 in its place, and a number whose last bits are whole numbers from 0.
    const ONE: u64 = 1023 << 52;
    const WHOLE: u64 = 0x4330_0000_0000_0000;
    let exponent = x.to_bits().wrapping_sub(LOWEST).wrapping_add(ONE) >> 52;
    let rest = f64::from_bits(x.to_bits().wrapping_sub(exponent << 52).wrapping_add(ONE));
    let exponent = f64::from_bits(WHOLE | exponent) - (f64::from_bits(WHOLE) + 1023.0);
    let s = (rest - 1.0) / (rest + 1.0);
    let (s2, s4) = (s * s, (s * s) * (s * s));
    let s8 = s4 * s4;
    let low = (1.0 + s2 * (1.0 / 3.0)) + s4 * (1.0 / 5.0 + s2 * (1.0 / 7.0));
    let high = (1.0 / 9.0 + s2 * (1.0 / 11.0)) + s4 * (1.0 / 13.0 + s2 * (1.0 / 15.0));
    exponent + (2.0 / LN_2) * s * (low + s8 * (high + s8 * (1.0 / 17.0)))
}

/// The level of a peak for people: two decimals, never below -200 dBFS.
pub fn readable_dbfs(gain: f64) -> f64 {
    libm::round(gain_to_db(gain).max(-200.0) * 100.0) / 100.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case::unity(0.0, 1.0)]
    #[case::off(OFF_DB, 0.0)]
    #[case::below_off(-400.0, 0.0)]
    #[case::double(20.0 * LOG10_2, 2.0)]
    fn decibels_become_gain(#[case] db: f64, #[case] gain: f64) {
        assert!((db_to_gain(db) - gain).abs() < 1e-12);
    }

    #[test]
    fn unity_is_exact_and_what_is_no_number_stays_none() {
        assert_eq!((db_to_gain(0.0), gain_to_db(1.0), gain_to_db(-1.0)), (1.0, 0.0, 0.0));
        assert_eq!((gain_to_db(0.0), gain_to_db(f64::INFINITY)), (f64::NEG_INFINITY, f64::INFINITY));
        assert_eq!(db_to_gain(f64::INFINITY), f64::INFINITY);
        assert!(db_to_gain(f64::NAN).is_nan() && gain_to_db(f64::NAN).is_nan());
    }

    #[test]
    fn both_agree_with_the_general_functions() {
        for n in -99_900..60_000 {
            let db = f64::from(n) / 1000.0;
            let gain = libm::exp10(db / 20.0);
            assert!((db_to_gain(db) / gain - 1.0).abs() < 1e-13, "{db} dB");
            assert!((gain_to_db(gain) - db).abs() < 1e-11, "{db} dB");
        }
        for exponent in [-1021, -300, 300, 1020] {
            let gain = 1.37 * libm::exp2(f64::from(exponent));
            assert!((gain_to_db(gain) - 20.0 * libm::log10(gain)).abs() < 1e-9, "2^{exponent}");
        }
        let smallest = 5e-324;
        assert!((gain_to_db(smallest) - 20.0 * libm::log10(smallest)).abs() < 1e-9);
    }

    #[test]
    fn many_at_once_are_the_same_as_one_by_one() {
        let levels: Vec<f64> = (-2500..1000).map(|n| f64::from(n) / 10.0).chain([f64::NEG_INFINITY, 0.0]).collect();
        let mut all = levels.clone();
        all_db_to_gain(&mut all);
        assert!(all.iter().zip(&levels).all(|(gain, db)| *gain == db_to_gain(*db)));
        let gains: Vec<f64> = (-3000..3000).map(|n| libm::exp10(f64::from(n) / 100.0)).chain([1.0, -0.5]).collect();
        let mut back = gains.clone();
        all_gain_to_db(&mut back);
        assert!(back.iter().zip(&gains).all(|(db, gain)| *db == gain_to_db(*gain)));
        let mut nothing = [0.0, f64::MIN_POSITIVE / 4.0];
        all_gain_to_db(&mut nothing);
        assert!(nothing.iter().all(|db| (-6160.0..-6140.0).contains(db)), "{nothing:?}");
    }

    #[test]
    fn nothing_jumps_where_the_whole_part_changes() {
        for n in -15..15 {
            let edge = (f64::from(n) + 0.5) * 20.0 * LOG10_2;
            let (below, above) = (db_to_gain(edge - 1e-12), db_to_gain(edge + 1e-12));
            assert!((above / below - 1.0).abs() < 2e-12 && above >= below, "{edge} dB");
            let gain = libm::sqrt(0.5) * libm::exp2(f64::from(n));
            assert!((gain_to_db(gain * (1.0 + 1e-14)) - gain_to_db(gain * (1.0 - 1e-14))).abs() < 1e-12);
        }
    }
}
