//! Families of voices, by which the board is coloured and folded.

use serde::{Deserialize, Serialize};

/// The family of a voice.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(rename_all = "snake_case")]
pub enum Family {
    /// Kicks and low toms.
    Low,
    /// Snares, claps and rims.
    Snare,
    /// Hats and cymbals.
    Hats,
    /// What else is struck.
    Percussion,
    /// Bass notes.
    Bass,
    /// What plays chords and tunes.
    Music,
}

impl Family {
    /// All, in the order of the board.
    pub const ALL: [Family; 6] =
        [Family::Low, Family::Snare, Family::Hats, Family::Percussion, Family::Bass, Family::Music];

    /// What people call the family.
    pub fn label(self) -> &'static str {
        match self {
            Family::Low => "low",
            Family::Snare => "snare and clap",
            Family::Hats => "hats and cymbals",
            Family::Percussion => "percussion",
            Family::Bass => "bass",
            Family::Music => "music",
        }
    }
}
