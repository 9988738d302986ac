//! What holds for all of a session.

use super::{Metre, PanLaw, Swing, Targets, Tempo};
use lane_dsp::Place;
use lane_units::{KeyName, TICKS_PER_QUARTER, Title};
use serde::{Deserialize, Serialize};

/// What holds for the whole session.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Header {
    /// What the session is called.
    pub title: Title,
    /// Quarter notes a minute.
    pub tempo_bpm: Tempo,
    /// Beats in a bar.
    pub metre: Metre,
    /// Where off-beats fall; voices can have their own.
    pub swing: Swing,
    /// Such as "F min"; may be empty.
    pub key: KeyName,
    /// How pan divides sound between the sides.
    pub pan_law: PanLaw,
    /// In Hz, one of [`lane_units::SAMPLE_RATES`]; fixed when the session is made.
    pub sample_rate: u32,
    /// Levels that lanes and the sum are to reach.
    #[serde(default)]
    pub targets: Targets,
}

impl Header {
    /// Where processors work.
    pub fn place(&self) -> Place {
        let bar_quarters = f64::from(self.metre.bar_ticks()) / f64::from(TICKS_PER_QUARTER);
        Place { sample_rate: self.sample_rate, tempo_bpm: self.tempo_bpm.bpm(), bar_quarters }
    }
}
