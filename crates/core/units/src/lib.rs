//! Values with units: sample frames, decibels, musical time, ids.

#![deny(missing_docs)]

mod counted;
mod decibels;
mod dice;
mod maps;
mod names;
mod repair;
mod text;
mod words;

pub use counted::counted;
pub use decibels::{OFF_DB, all_db_to_gain, all_gain_to_db, db_to_gain, gain_to_db, readable_dbfs};
pub use dice::Dice;
pub use maps::{IdMap, IdSet};
pub use names::Names;
pub use repair::repaired_or;
pub use repair::repairing;
pub use text::{CheckKey, FileName, KeyName, LabelPattern, Name, Purpose, Sentence, StripName, Text, TextError, Title};
pub use words::{Reader, Words};

use serde::{Deserialize, Serialize};

/// One stereo sample frame, left then right, full scale at ±1.0.
pub type Frame = [f64; 2];

/// Ticks in a quarter note. Divisible by 2 to 64 and by 3, so that straight and triplet steps are whole.
pub const TICKS_PER_QUARTER: u32 = 960;

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
id!(
    /// A recording that a session is held against.
    ReferenceId
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
    #[case::whole("0123456789abcdef0123456789abcdef0123456789abcdef0123456789abcdef", true)]
    #[case::short("0123", false)]
    #[case::upper("0123456789ABCDEF0123456789abcdef0123456789abcdef0123456789abcdef", false)]
    fn asset_ids_are_checked(#[case] text: &str, #[case] well: bool) {
        assert_eq!(AssetId(text.into()).is_well_formed(), well);
    }
}
