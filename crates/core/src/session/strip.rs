//! Strips: channels, buses and main.

use crate::units::StripId;
use serde::{Deserialize, Serialize};

#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(rename_all = "snake_case")]
pub enum StripKind {
    /// Takes voices.
    Channel,
    /// Takes channels and buses.
    Bus,
    /// The end of the walk; exactly one.
    Main,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(rename_all = "snake_case")]
pub enum Polarity {
    Normal,
    Inverted,
}

/// Level at the sides against the centre. The centre always passes unchanged, so that a strip at rest is
/// bit-transparent; a source panned hard is louder there by the law's figure.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(rename_all = "snake_case")]
pub enum PanLaw {
    /// Balance: the far side falls, the near side stays.
    Zero,
    /// Constant power, centre 3 dB under the sides.
    Minus3,
    /// Centre 4.5 dB under the sides.
    #[serde(rename = "minus_4_5")]
    Minus4_5,
    /// Constant voltage, centre 6 dB under the sides.
    Minus6,
}

/// A processor of a chain. None has been written yet, so that no value of it can exist.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "kind", rename_all = "snake_case")]
pub enum Processor {}

/// Signal order: input, trim and polarity, chain, width, pan, fader, mute, output.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Strip {
    pub id: StripId,
    pub kind: StripKind,
    /// Up to 80 characters; empty on a channel that is called after its voices.
    pub name: String,
    /// -100 (off) to +24 dB.
    pub trim_db: f64,
    pub polarity: Polarity,
    pub chain: Vec<Processor>,
    /// -100 (off) to +12 dB.
    pub fader_db: f64,
    /// -100 % (left) to +100 % (right).
    pub pan_percent: f64,
    /// 0 % (mono) to 200 %; 100 % is unchanged.
    pub width_percent: f64,
    pub mute: bool,
    pub solo: bool,
    /// Where it goes; nothing is allowed and silent. Main has none.
    pub output: Option<StripId>,
}

impl Strip {
    /// A strip at rest.
    pub fn new(id: StripId, kind: StripKind, name: &str, output: Option<StripId>) -> Self {
        Strip {
            id,
            kind,
            name: name.to_owned(),
            trim_db: 0.0,
            polarity: Polarity::Normal,
            chain: Vec::new(),
            fader_db: 0.0,
            pan_percent: 0.0,
            width_percent: 100.0,
            mute: false,
            solo: false,
            output,
        }
    }
}
