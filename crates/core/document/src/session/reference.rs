//! Recordings that a mix is held against. They never reach main, nor a stem.

use lane_units::{AssetId, Name, ReferenceId};
use serde::{Deserialize, Serialize};

/// A recording to be held against the mix, past everything that the session does.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Reference {
    /// Its id.
    pub id: ReferenceId,
    /// What it is called.
    pub name: Name,
    /// Its sound.
    pub asset: AssetId,
    /// Whether it goes along with the song, instead of going round by itself.
    pub follows: bool,
    /// Where it follows, the bar of the song that `from_frame` falls on, from 0.
    pub start_bar: u32,
    /// The first of its frames that is played.
    pub from_frame: u32,
    /// The first that is not played any more.
    pub to_frame: u32,
}
