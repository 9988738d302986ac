//! Levels that lanes and the sum are to reach.

use serde::{Deserialize, Serialize};

/// What a target is given in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(rename_all = "snake_case")]
pub enum TargetBy {
    /// Sample peak in dBFS.
    Peak,
    /// In dBTP.
    TruePeak,
    /// In dBFS.
    Rms,
    /// Integrated, in LUFS.
    Loudness,
}

/// What a lane is to reach after trim.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct LaneTarget {
    /// What is held against it.
    pub by: TargetBy,
    /// -60 to 0 in the target's unit.
    pub db: f64,
}

/// What lanes and the sum are to reach.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Targets {
    /// For each lane without a target of its own.
    pub lane: LaneTarget,
    /// True peak that main is to stay under, -30 to 0 dBTP.
    pub sum_dbtp: f64,
}

impl Default for Targets {
    fn default() -> Self {
        Targets { lane: LaneTarget { by: TargetBy::Peak, db: -12.0 }, sum_dbtp: -6.0 }
    }
}
