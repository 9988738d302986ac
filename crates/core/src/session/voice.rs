//! Voices and where their sound comes from.

use super::Family;
use crate::units::{AssetId, StripId, VoiceId};
use serde::{Deserialize, Serialize};

/// One sample under a voice.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Layer {
    pub asset: AssetId,
    /// -100 (off) to +24 dB.
    pub gain_db: f64,
    /// -4800 to +4800 ct.
    pub tune_ct: f64,
}

/// How long a hit sounds.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Hold {
    /// The whole sample, whatever the hit's length.
    Whole,
    /// For the hit's length, then fading over the release.
    Gate {
        /// 1 to 5000 ms.
        release_ms: f64,
    },
}

/// What a voice plays.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum VoiceSource {
    /// No sound yet.
    Empty,
    /// Layers, started together by each hit.
    OneShot { layers: Vec<Layer>, hold: Hold },
    /// A recording that runs along with the song.
    Recording {
        asset: AssetId,
        /// Where it starts, in ticks from bar 1.
        start_ticks: u32,
    },
}

impl VoiceSource {
    /// The audio that it needs.
    pub fn assets(&self) -> Vec<&AssetId> {
        match self {
            VoiceSource::Empty => Vec::new(),
            VoiceSource::OneShot { layers, .. } => layers.iter().map(|l| &l.asset).collect(),
            VoiceSource::Recording { asset, .. } => vec![asset],
        }
    }
}

/// One sound of the kit or the music; with its channel it is a lane of the board.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Voice {
    pub id: VoiceId,
    /// 1 to 80 characters; the name everywhere.
    pub name: String,
    pub family: Family,
    pub source: VoiceSource,
    /// The channel it runs on; two voices may share one.
    pub channel: StripId,
}
