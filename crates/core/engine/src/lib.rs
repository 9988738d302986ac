//! The document as sound: the same code live and offline, bit for bit the same for every block size.
//!
//! ```
//! use lane_document::session::{AssetBank, Session};
//! use lane_engine::{Engine, Metering};
//!
//! let session = Session::new("Copper", 48_000);
//! let mut engine = Engine::new(&session, &AssetBank::new(), 128, Metering::Off);
//! engine.play();
//! let mut block = [[1.0; 2]; 128];
//! engine.process(&mut block);
//! assert_eq!(block, [[0.0; 2]; 128], "nothing plays in it yet");
//! ```
//!
//! A session becomes words by a [`Compiler`], where time does not matter; [`Engine::take`] follows them. What changes
//! gains, values, hits or time is followed at once and costs what it changes; what changes the structure is made piece
//! by piece while the old one plays, and stands in when it is whole.
//!
//! [`Engine::process`] allocates nothing, locks nothing and cannot panic on any input it accepted, unless a new
//! structure is on its way. Every call says whether it is fit for the audio thread.
//!
//! A strip's stations are computed in signal order; every connection between strips, whether output, send or key, is one
//! entry that waits for the latest of what arrives with it. What is silent is neither computed nor copied, where that
//! gives the same bits.

#![deny(missing_docs)]

mod engine;
mod following;
mod strips;
mod time;
mod voices;

pub use engine::Engine;
pub use following::compile::Compiler;
pub use following::plan::Plan;
pub use strips::listen::Listened;
pub use strips::matrix::Matrix;
pub use strips::meter::{METER_VALUES, SLOT_METER_VALUES, StationMeter};
pub use strips::station::{Bypass, MeterLayout, Metering, Station};
pub use time::playhead::{LoopRange, Playhead};
pub use time::score::{Event, planned_hits};

#[cfg(test)]
mod tests;
