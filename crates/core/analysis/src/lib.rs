//! What sound is: loudness, peaks, pitch, where its energy sits, where hits begin.
//!
//! ```
//! let mut meter = lane_analysis::LoudnessMeter::new(48_000);
//! let tone = |n: usize| 0.1 * libm::sin(std::f64::consts::TAU * 997.0 * n as f64 / 48_000.0);
//! meter.take(&(0..96_000).map(|n| [tone(n); 2]).collect::<Vec<_>>());
//! // Two channels of a tone of -20 dBFS at 997 Hz (ITU-R BS.1770-5).
//! assert!((meter.read().integrated_lufs + 20.0).abs() < 0.1);
//! ```

#![deny(missing_docs)]

mod guess;
mod loudness;
mod median;
mod onsets;
mod pitch;
mod spectrum;
mod tempo;

pub use guess::{BandShares, band_shares, guess_family};
pub use loudness::{LiveLoudness, Loudness, LoudnessMeter, LoudnessTrack};
pub use onsets::onsets;
pub use pitch::{NamedPitch, Pitch, settled_pitch};
pub use spectrum::{BandMeter, Bands, Complex, Spectrum, Transform, bands_of};
pub use tempo::{LoopTempo, loop_tempi};
