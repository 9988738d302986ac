//! Patterns, their hits, and the sections that make a song of them.

use crate::units::{PatternId, SectionId, VoiceId};
use serde::{Deserialize, Serialize};

fn is_default<T: Default + PartialEq>(value: &T) -> bool {
    *value == T::default()
}

fn once() -> u8 {
    1
}

fn is_once(repeats: &u8) -> bool {
    *repeats == 1
}

/// One hit of a voice.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Hit {
    /// Ticks from the start of the pattern, where it is written.
    pub at_ticks: u32,
    /// Ticks; how long it is held where the voice is gated, and what its repeats divide.
    pub length_ticks: u32,
    /// 1 to 127; full level at 127, level falls with its square.
    pub velocity: u8,
    /// Semitones away from the sample's own pitch, -48 to 48.
    pub tune_st: i8,
    /// Ticks later (or earlier) than written, -480 to 480.
    #[serde(default, skip_serializing_if = "is_default")]
    #[cfg_attr(feature = "describe", ts(optional, as = "Option<i32>"))]
    pub shift_ticks: i32,
    /// Sounds within its length, 1 to 8, evenly spaced.
    #[serde(default = "once", skip_serializing_if = "is_once")]
    #[cfg_attr(feature = "describe", ts(optional, as = "Option<u8>"))]
    pub repeats: u8,
    /// Change of velocity from one repeat to the next, -60 to 60.
    #[serde(default, skip_serializing_if = "is_default")]
    #[cfg_attr(feature = "describe", ts(optional, as = "Option<i8>"))]
    pub slope: i8,
    /// The one layer of the voice that it plays, counted from 0; all of them where not said.
    #[serde(default, skip_serializing_if = "is_default")]
    #[cfg_attr(feature = "describe", ts(optional))]
    pub layer: Option<u8>,
}

impl Hit {
    /// A plain hit, on time.
    pub const fn new(at_ticks: u32, length_ticks: u32, velocity: u8, tune_st: i8) -> Self {
        Hit { at_ticks, length_ticks, velocity, tune_st, shift_ticks: 0, repeats: 1, slope: 0, layer: None }
    }
}

/// Small variations of each hit, the same for the same seed. Taking it away gives the straight part back.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Humanise {
    pub seed: u32,
    /// Up to so much earlier or later, 0 to 50 ms.
    pub time_ms: f64,
    /// Up to so much softer or louder, 0 to 12 dB.
    pub level_db: f64,
    /// Up to so much lower or higher, 0 to 100 ct.
    pub tune_ct: f64,
}

/// The hits of one voice in one pattern, in order of time, then pitch.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Part {
    pub pattern: PatternId,
    pub voice: VoiceId,
    pub hits: Vec<Hit>,
    /// A loop of its own: after so many ticks the part starts again, through the whole section. The pattern's
    /// length where not said.
    #[serde(default, skip_serializing_if = "is_default")]
    #[cfg_attr(feature = "describe", ts(optional))]
    pub loop_ticks: Option<u32>,
    #[serde(default, skip_serializing_if = "is_default")]
    #[cfg_attr(feature = "describe", ts(optional))]
    pub humanise: Option<Humanise>,
}

impl Part {
    /// Hits that repeat with their pattern.
    pub fn new(pattern: PatternId, voice: VoiceId, hits: Vec<Hit>) -> Self {
        Part { pattern, voice, hits, loop_ticks: None, humanise: None }
    }
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
