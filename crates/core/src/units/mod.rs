//! Values with units: sample frames, decibels, musical time, ids.

mod dice;

pub use dice::Dice;

use serde::{Deserialize, Serialize};

/// One stereo sample frame, left then right, full scale at ±1.0.
pub type Frame = [f64; 2];

/// Ticks in a quarter note. Divisible by 2 to 64 and by 3, so that straight and triplet steps are whole.
pub const TICKS_PER_QUARTER: u32 = 960;

/// At or below this level in dB a gain is exactly zero; screens show it as "off".
pub const OFF_DB: f64 = -100.0;

/// The linear gain of a level in dB; 0 dB is exactly 1.0, [`OFF_DB`] and below exactly 0.0.
pub fn db_to_gain(db: f64) -> f64 {
    if db <= OFF_DB {
        0.0
    } else if db == 0.0 {
        1.0
    } else {
        libm::exp10(db / 20.0)
    }
}

/// The level in dB of a linear gain; negative infinity for zero.
pub fn gain_to_db(gain: f64) -> f64 {
    20.0 * libm::log10(gain.abs())
}

/// The level of a peak for people: two decimals, never below -200 dBFS.
pub fn readable_dbfs(gain: f64) -> f64 {
    libm::round(gain_to_db(gain).max(-200.0) * 100.0) / 100.0
}

macro_rules! id {
    ($(#[$doc:meta])* $name:ident) => {
        $(#[$doc])*
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
        #[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
        #[serde(transparent)]
        pub struct $name(pub u32);
    };
}
id!(
    /// A voice of one session.
    VoiceId
);
id!(
    /// A channel, trigger, bus, return or main of one session.
    StripId
);
id!(
    /// A processor of one session.
    ProcessorId
);
id!(
    /// A pattern of one session.
    PatternId
);
id!(
    /// A section of one session.
    SectionId
);
id!(
    /// A MIDI take that a session keeps.
    TakeId
);

/// The content address of one piece of audio: lower-case hexadecimal SHA-256.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(transparent)]
pub struct AssetId(pub String);

impl AssetId {
    /// Whether this is 64 lower-case hexadecimal digits.
    pub fn is_well_formed(&self) -> bool {
        self.0.len() == 64 && self.0.bytes().all(|b| b.is_ascii_digit() || (b'a'..=b'f').contains(&b))
    }
}

/// Session sample rates in Hz.
pub const SAMPLE_RATES: [u32; 4] = [44_100, 48_000, 88_200, 96_000];

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case::unity(0.0, 1.0)]
    #[case::off(OFF_DB, 0.0)]
    #[case::below_off(-400.0, 0.0)]
    #[case::double(20.0 * std::f64::consts::LOG10_2, 2.0)]
    fn decibels_become_gain(#[case] db: f64, #[case] gain: f64) {
        assert!((db_to_gain(db) - gain).abs() < 1e-12);
    }

    #[test]
    fn gain_becomes_decibels_and_back() {
        for db in [-60.0, -6.0, 3.5, 12.0] {
            assert!((gain_to_db(db_to_gain(db)) - db).abs() < 1e-9);
        }
    }

    #[rstest]
    #[case::whole("0123456789abcdef0123456789abcdef0123456789abcdef0123456789abcdef", true)]
    #[case::short("0123", false)]
    #[case::upper("0123456789ABCDEF0123456789abcdef0123456789abcdef0123456789abcdef", false)]
    fn asset_ids_are_checked(#[case] text: &str, #[case] well: bool) {
        assert_eq!(AssetId(text.into()).is_well_formed(), well);
    }
}
