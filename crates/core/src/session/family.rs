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

/// Words of file names, each with the family that it speaks for. The first that fits wins.
const WORDS: [(&[&str], Family); 7] = [
    (&["subbass", "sub bass", "bassline", "bass"], Family::Bass),
    (&["hat", "hh", "hihat", "cymbal", "crash", "ride", "splash", "china"], Family::Hats),
    (
        &[
            "tom", "toms", "shaker", "perc", "conga", "bongo", "tamb", "cowbell", "clave", "block", "guiro",
            "triangle", "cabasa", "maraca", "agogo", "timbale", "whistle", "cuica",
        ],
        Family::Percussion,
    ),
    (&["snare", "sn", "sd", "clap", "rim", "snap", "sidestick", "stick"], Family::Snare),
    (&["kick", "kik", "bd", "bassdrum"], Family::Low),
    (&["sub"], Family::Bass),
    (
        &[
            "key", "keys", "pluck", "pad", "chord", "lead", "synth", "piano", "organ", "guitar", "vocal", "vox",
            "strings", "arp", "melody", "sample",
        ],
        Family::Music,
    ),
];

impl Family {
    /// All, in the order of the board.
    pub const ALL: [Family; 6] =
        [Family::Low, Family::Snare, Family::Hats, Family::Percussion, Family::Bass, Family::Music];

    /// The family that a name speaks for, if it speaks for one.
    pub fn of_name(name: &str) -> Option<Family> {
        let lower = name.to_lowercase();
        if lower.contains("bass drum") || lower.contains("kick") {
            return Some(Family::Low);
        }
        let words: Vec<&str> = lower.split(|c: char| !c.is_alphanumeric()).filter(|w| !w.is_empty()).collect();
        WORDS
            .iter()
            .find(|(keys, _)| {
                keys.iter().any(|key| words.iter().any(|w| w == key || (key.len() > 3 && w.starts_with(key))))
            })
            .map(|(_, family)| *family)
    }

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
