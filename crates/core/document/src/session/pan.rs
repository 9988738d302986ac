//! How pan divides sound.

use serde::{Deserialize, Serialize};

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
