//! What sound is: loudness, peaks, pitch, where its energy sits, where hits begin.

mod guess;
mod loudness;
mod onsets;
mod pitch;
mod spectrum;
mod tempo;

pub use guess::{BandShares, band_shares, guess_family};
pub use loudness::{LiveLoudness, Loudness, LoudnessMeter, LoudnessTrack};
pub use onsets::onsets;
pub use pitch::{Pitch, settled_pitch};
pub use spectrum::{BandMeter, Bands, Complex, Spectrum, Transform, bands_of};
pub use tempo::{LoopTempo, loop_tempi};

/// The middle one of some values, the upper of two; nothing of none.
fn median(values: impl Iterator<Item = f64>) -> Option<f64> {
    let mut values: Vec<f64> = values.collect();
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied()
}
