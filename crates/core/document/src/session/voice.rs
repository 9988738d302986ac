//! Voices and where their sound comes from.

use super::{Family, Swing};
use lane_units::{AssetId, Name, StripId, VoiceId};
use serde::{Deserialize, Serialize};

/// A rise at the start of a layer.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct FadeIn {
    /// 0 (none) to 5000 ms.
    pub ms: f64,
    /// -100 (fast, then slow) over 0 (straight) to 100 % (slow, then fast).
    pub curve_percent: f64,
}

/// A fall that ends a layer.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Decay {
    /// Time at full level after the onset, 0 to 10,000 ms.
    pub hold_ms: f64,
    /// From full level to silence, 1 to 10,000 ms.
    pub ms: f64,
    /// -100 (slow, then fast) over 0 (straight) to 100 % (fast, then slow).
    pub curve_percent: f64,
}

/// A glide of the pitch at the onset, even in semitones, from `depth_st` away to the layer's own pitch.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct PitchSweep {
    /// -48 to 48 st.
    pub depth_st: f64,
    /// 1 to 2000 ms.
    pub ms: f64,
}

/// One sample under a voice.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Layer {
    /// The audio.
    pub asset: AssetId,
    /// -100 (off) to +24 dB.
    pub gain_db: f64,
    /// -4800 to +4800 ct.
    pub tune_ct: f64,
    /// How much later than the hit it begins, 0 to 500 ms.
    #[serde(default)]
    pub delay_ms: f64,
    /// The first frame of the sample that is played.
    pub start_frame: u32,
    /// The first frame that is not played any more; the whole sample where not said.
    pub end_frame: Option<u32>,
    /// Whether it plays backwards.
    pub reverse: bool,
    /// How it begins.
    pub fade_in: FadeIn,
    /// How it falls, where it is not left alone.
    pub decay: Option<Decay>,
    /// How its pitch moves, where it does.
    pub sweep: Option<PitchSweep>,
    /// How much velocity moves the level: 0 (not at all) to 100 % (with the square of velocity).
    pub velocity_percent: f64,
}

impl Layer {
    /// The whole sample as it is.
    pub fn new(asset: AssetId) -> Self {
        Layer {
            asset,
            gain_db: 0.0,
            tune_ct: 0.0,
            delay_ms: 0.0,
            start_frame: 0,
            end_frame: None,
            reverse: false,
            fade_in: FadeIn { ms: 0.0, curve_percent: 0.0 },
            decay: None,
            sweep: None,
            velocity_percent: 100.0,
        }
    }
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
    /// Layers, started together by each hit, or one of them where the hit says which.
    OneShot {
        /// Sounding together.
        layers: Vec<Layer>,
        /// How long a hit sounds.
        hold: Hold,
    },
    /// A recording that runs along with the song.
    Recording {
        /// The audio.
        asset: AssetId,
        /// Where it starts, in sample frames from bar 1.
        start_frame: u32,
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
    /// Its id.
    pub id: VoiceId,
    /// 1 to 80 characters; the name everywhere.
    pub name: Name,
    /// Its family.
    pub family: Family,
    /// What it plays.
    pub source: VoiceSource,
    /// The channel it runs on; two voices may share one.
    pub channel: StripId,
    /// 1 to 16: a hit of one voice of a choke set ends what the others of the set still sound.
    pub choke_set: Option<u8>,
    /// Swing of its own; the session's where not said.
    pub swing: Option<Swing>,
    /// How much later than written its hits sound, -100 (earlier) to +100 ms.
    #[serde(default)]
    pub late_ms: f64,
    /// Plays the hits of another voice, which follows none itself, instead of its own.
    pub follows: Option<VoiceId>,
}

impl Voice {
    /// A voice with hits and swing like the rest.
    pub fn new(id: VoiceId, name: Name, family: Family, source: VoiceSource, channel: StripId) -> Self {
        Voice { id, name, family, source, channel, choke_set: None, swing: None, late_ms: 0.0, follows: None }
    }
}
