//! What is tracked out, where it is tapped, and how it is written.

use lane_units::{LabelPattern, SectionId, StripId};
use serde::{Deserialize, Serialize};

/// Where along a strip a stem is taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(rename_all = "snake_case")]
pub enum Tap {
    /// After the trim, before the chain.
    Dry,
    /// After chain, pan, fader and mute.
    Channel,
}

/// How samples are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(rename_all = "snake_case")]
pub enum Depth {
    /// 24-bit integer; over full scale is held at full scale.
    Int24,
    /// 32-bit float.
    Float32,
}

impl Depth {
    /// Bytes of one sample.
    pub fn bytes(self) -> usize {
        match self {
            Depth::Int24 => 3,
            Depth::Float32 => 4,
        }
    }

    /// The 24-bit integer of a sample, rounded to nearest, held at full scale.
    pub fn to_int24(sample: f64) -> i32 {
        let scaled = (sample * 8_388_608.0).clamp(-8_388_608.0, 8_388_607.0);
        // The cast cuts towards zero, so half a step away from zero makes it round to nearest.
        (scaled + if scaled < 0.0 { -0.5 } else { 0.5 }) as i32
    }

    /// The value that is left of a sample once written.
    pub fn written(self, sample: f64) -> f64 {
        match self {
            Depth::Int24 => f64::from(Self::to_int24(sample)) / 8_388_608.0,
            Depth::Float32 => f64::from(sample as f32),
        }
    }
}

/// Which stretch of the song is rendered.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum StemRange {
    /// All of it.
    Song,
    /// One section of it.
    Section {
        /// The section.
        section: SectionId,
    },
    /// Bars counted from 0.
    Bars {
        /// The first, from 0.
        from_bar: u32,
        /// How many.
        bars: u32,
    },
}

/// One strip of the plan.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct StemChoice {
    /// The strip.
    pub strip: StripId,
    /// Where its sound is taken.
    pub tap: Tap,
}

/// The plan for tracking out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct StemPlan {
    /// Strips left out; all other channels and main are in.
    pub without: Vec<StripId>,
    /// Buses that are in.
    pub with_buses: Vec<StripId>,
    /// The tap of every stem that `taps` does not name.
    pub tap: Tap,
    /// Strips with a tap of their own.
    pub taps: Vec<StemChoice>,
    /// The part of the song.
    pub range: StemRange,
    /// Whether sounds that begin in the range are written to their end.
    pub tail: bool,
    /// The numbers in the files.
    pub depth: Depth,
    /// File name pattern; see `stems::labels`.
    pub label: LabelPattern,
    /// Whether limiters of main act on what is written of it.
    #[serde(default)]
    pub with_limiter: bool,
}

impl Default for StemPlan {
    fn default() -> Self {
        StemPlan {
            without: Vec::new(),
            with_buses: Vec::new(),
            tap: Tap::Channel,
            taps: Vec::new(),
            range: StemRange::Song,
            tail: true,
            depth: Depth::Int24,
            label: "{number}_{voice}_{title}_{tempo}bpm".into(),
            with_limiter: false,
        }
    }
}
