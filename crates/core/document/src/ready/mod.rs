//! What is offered to begin with: chains of parallel paths and buses, what is ducked by what in most beats, what a key hears.

mod chains;
mod ducks;

pub use chains::{ReadyChain, ReadyPlace, ready_chains};
pub use ducks::{DuckStart, Pair, duck_starts, usual_pair};

use crate::session::{KEY_SOURCES, Key};
use lane_dsp::{Compressor, Settings};
use lane_units::StripId;
use serde::Serialize;

/// What is offered whatever a session holds.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Ready {
    /// Chains, in the order in which they are offered.
    pub chains: Vec<ReadyChain>,
    /// A key as it begins; what it hears is still to be said.
    pub key: Key,
    /// Strips that a key hears at most.
    pub key_sources: usize,
    /// A ducker that lets its key be heard clearly at once, to be backed off by ear.
    pub ducker: Settings,
}

impl Ready {
    /// All of it.
    #[allow(clippy::new_without_default)]
    pub fn new() -> Self {
        let key = Key::new(StripId(0)).with_sources(|_| None);
        let ducker = Settings::Compressor(Compressor {
            threshold_dbfs: -30.0,
            ratio: 6.0,
            attack_ms: 1.0,
            hold_ms: 20.0,
            release_ms: 110.0,
            range_db: 12.0,
            ..Compressor::default()
        });
        Ready { chains: ready_chains(), key, key_sources: KEY_SOURCES, ducker }
    }
}
