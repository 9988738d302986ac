//! Where a strip is heard, and what is asked of an engine about it.

use lane_units::{ProcessorId, StripId};
use serde::{Deserialize, Serialize};

/// A point along a strip where its sound can be heard.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(rename_all = "snake_case")]
pub enum Station {
    /// What comes in.
    Source,
    /// Behind the trim.
    Trimmed,
    /// After a processor.
    Processor(ProcessorId),
    /// What a processor listens to, behind its key's filters; heard right after the processor.
    Key(ProcessorId),
    /// After the fader.
    Out,
}

/// What is passed by to compare how it sounds without.
#[derive(Debug, Clone, Default, PartialEq, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Bypass {
    /// Processors, each with the level in dB at which the sound goes past it.
    pub processors: Vec<(ProcessorId, f64)>,
    /// Level of main in dB.
    pub main_db: f64,
}

/// Whether levels are measured while rendering.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Metering {
    /// Levels are read.
    On,
    /// Nothing is read.
    Off,
}

/// Whose meters stand where: a strip and its processors.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct MeterLayout {
    /// The strip.
    pub strip: StripId,
    /// Its processors in order.
    pub processors: Vec<ProcessorId>,
}
