//! One difference between two states of a session.

use crate::edit::Edit;
use lane_units::StripId;
use serde::Serialize;

/// What a difference is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
#[serde(rename_all = "snake_case")]
pub enum DifferenceKind {
    /// Rows that are there on one side alone.
    Rows,
    /// What voices play, and how.
    Sound,
    /// Hits.
    Hits,
    /// Trim, polarity, fader, pan, width, mute.
    Levels,
    /// Processors.
    Chain,
    /// Outputs and sends.
    Routing,
    /// Tempo, metre, patterns, sections.
    Song,
    /// What is tracked out, and what is out of sight.
    Rest,
}

/// One difference.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Difference {
    /// Names it as long as both states are as they are.
    pub key: String,
    /// The row that it is about; nothing where it is about the whole.
    pub strip: Option<StripId>,
    /// Other rows that it changes too.
    pub also: Vec<StripId>,
    /// What it is about.
    pub kind: DifferenceKind,
    /// How it is now.
    pub now: String,
    /// How it is in the other state.
    pub then: String,
    /// What takes it over.
    pub edit: Edit,
}
