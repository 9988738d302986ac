//! Patterns, their hits, and the sections that make a song of them.

use crate::units::{PatternId, SectionId, VoiceId};
use serde::{Deserialize, Serialize};

/// One hit of a voice.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Hit {
    /// Ticks from the start of the pattern.
    pub at_ticks: u32,
    /// Ticks; how long it is held where the voice is gated.
    pub length_ticks: u32,
    /// 1 to 127; full level at 127, level falls with its square.
    pub velocity: u8,
    /// Semitones away from the sample's own pitch, -48 to 48.
    pub tune_st: i8,
}

impl Hit {
    /// Linear gain of the velocity: (v / 127)².
    pub fn velocity_gain(self) -> f64 {
        let v = f64::from(self.velocity) / 127.0;
        v * v
    }
}

/// The hits of one voice in one pattern, in order of time, then pitch.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Part {
    pub pattern: PatternId,
    pub voice: VoiceId,
    pub hits: Vec<Hit>,
}

/// A pattern of whole bars.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Pattern {
    pub id: PatternId,
    pub name: String,
    /// 1 to 512.
    pub bars: u32,
}

/// A stretch of the song in which one pattern repeats.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Section {
    pub id: SectionId,
    pub name: String,
    pub pattern: PatternId,
    /// 1 to 512; the pattern repeats or is cut to fill them.
    pub bars: u32,
}
