//! Patterns, their hits, and the sections that make a song of them.

use super::{DocumentError, in_range, limits};
use lane_units::{Name, PatternId, Reader, SectionId, VoiceId, Words, repaired_or};
use serde::{Deserialize, Deserializer, Serialize};

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
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
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

impl Words for Hit {
    fn write(&self, words: &mut Vec<f64>) {
        let Hit { at_ticks, length_ticks, velocity, tune_st, shift_ticks, repeats, slope, layer } = self;
        words.extend([f64::from(*at_ticks), f64::from(*length_ticks), f64::from(*velocity), f64::from(*tune_st)]);
        words.extend([f64::from(*shift_ticks), f64::from(*repeats), f64::from(*slope)]);
        words.push(layer.map_or(-1.0, f64::from));
    }

    fn read(words: &mut Reader) -> Option<Self> {
        let [at_ticks, length_ticks, velocity, tune_st, shift_ticks, repeats, slope, layer] = words.array()?;
        Some(Hit {
            at_ticks: at_ticks as u32,
            length_ticks: length_ticks as u32,
            velocity: velocity as u8,
            tune_st: tune_st as i8,
            shift_ticks: shift_ticks as i32,
            repeats: repeats as u8,
            slope: slope as i8,
            layer: (layer >= 0.0).then_some(layer as u8),
        })
    }
}

#[derive(Deserialize)]
struct RawHit {
    at_ticks: u32,
    length_ticks: u32,
    velocity: u8,
    tune_st: i8,
    #[serde(default)]
    shift_ticks: i32,
    #[serde(default = "once")]
    repeats: u8,
    #[serde(default)]
    slope: i8,
    #[serde(default)]
    layer: Option<u8>,
}

impl<'de> Deserialize<'de> for Hit {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        let RawHit { at_ticks, length_ticks, velocity, tune_st, shift_ticks, repeats, slope, layer } =
            RawHit::deserialize(from)?;
        let hit = Hit { at_ticks, length_ticks, velocity, tune_st, shift_ticks, repeats, slope, layer };
        match hit.fault() {
            None => Ok(hit),
            Some(fault) => {
                repaired_or(fault.clone(), || (hit.within_ranges(), format!("{fault}; the nearest was taken.")))
                    .map_err(serde::de::Error::custom)
            }
        }
    }
}

impl Hit {
    /// The first of its numbers that is out of range.
    pub fn fault(&self) -> Option<DocumentError> {
        if self.fits() {
            return None;
        }
        self.ranges().into_iter().find_map(|(what, x, range, unit)| in_range(what, x, range, unit).err())
    }

    /// Whether every number is in its range.
    pub fn fits(&self) -> bool {
        self.ranges().iter().all(|(_, x, (min, max), _)| x >= min && x <= max)
    }

    /// What its numbers are, their values, ranges and units.
    fn ranges(&self) -> [(&'static str, f64, (f64, f64), &'static str); 7] {
        [
            ("a hit's position", f64::from(self.at_ticks), (0.0, f64::from(limits::SONG_TICKS)), "ticks"),
            ("a velocity", f64::from(self.velocity), limits::VELOCITY, ""),
            ("a hit's tuning", f64::from(self.tune_st), limits::HIT_TUNE_ST, "st"),
            ("a hit's length", f64::from(self.length_ticks), limits::LENGTH_TICKS, "ticks"),
            ("a hit's shift", f64::from(self.shift_ticks), limits::SHIFT_TICKS, "ticks"),
            ("repeats", f64::from(self.repeats), limits::REPEATS, ""),
            ("a velocity slope", f64::from(self.slope), limits::SLOPE, ""),
        ]
    }

    fn within_ranges(self) -> Self {
        let within = |x: f64, (min, max): (f64, f64)| x.clamp(min, max);
        Hit {
            at_ticks: self.at_ticks.min(limits::SONG_TICKS),
            length_ticks: within(f64::from(self.length_ticks), limits::LENGTH_TICKS) as u32,
            velocity: within(f64::from(self.velocity), limits::VELOCITY) as u8,
            tune_st: within(f64::from(self.tune_st), limits::HIT_TUNE_ST) as i8,
            shift_ticks: within(f64::from(self.shift_ticks), limits::SHIFT_TICKS) as i32,
            repeats: within(f64::from(self.repeats), limits::REPEATS) as u8,
            slope: within(f64::from(self.slope), limits::SLOPE) as i8,
            layer: self.layer,
        }
    }

    /// A plain hit, on time.
    pub const fn new(at_ticks: u32, length_ticks: u32, velocity: u8, tune_st: i8) -> Self {
        Hit { at_ticks, length_ticks, velocity, tune_st, shift_ticks: 0, repeats: 1, slope: 0, layer: None }
    }
}

/// Small variations of each hit, the same for the same seed. Taking it away gives the straight part back.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Humanise {
    /// What the dice begin with.
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
    /// The pattern.
    pub pattern: PatternId,
    /// The voice.
    pub voice: VoiceId,
    /// In order of time.
    pub hits: Vec<Hit>,
    /// A loop of its own: after so many ticks the part starts again, through the whole section. The pattern's
    /// length where not said.
    #[serde(default, skip_serializing_if = "is_default")]
    #[cfg_attr(feature = "describe", ts(optional))]
    pub loop_ticks: Option<u32>,
    /// Small variations when it is played.
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
    /// Its id.
    pub id: PatternId,
    /// What it is called.
    pub name: Name,
    /// At least 1; not longer than a song may be.
    pub bars: u32,
}

/// A stretch of the song in which one pattern repeats.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Section {
    /// Its id.
    pub id: SectionId,
    /// What it is called.
    pub name: Name,
    /// What it plays.
    pub pattern: PatternId,
    /// At least 1; the pattern repeats or is cut to fill them.
    pub bars: u32,
}
