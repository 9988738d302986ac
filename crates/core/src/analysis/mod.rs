//! What sound is: loudness, peaks, where its energy sits.

mod guess;
mod loudness;

pub use guess::{BandShares, band_shares, guess_family};
pub use loudness::{LiveLoudness, Loudness, LoudnessMeter};
