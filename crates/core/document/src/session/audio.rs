//! Decoded audio as the engine plays it, and what the document knows of it.

use lane_units::{AssetId, FileName};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::Arc;

/// What a document knows of one piece of audio without having it at hand.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct AssetRef {
    /// The address of its samples.
    pub id: AssetId,
    /// The file name it came with.
    pub name: FileName,
    /// 1 or 2.
    pub channels: u16,
    /// In Hz; equals the session's rate.
    pub sample_rate: u32,
    /// Length in frames.
    pub frames: u32,
}

impl AssetRef {
    /// Bytes of its samples, of 32 bits each.
    pub fn bytes(&self) -> u64 {
        u64::from(self.frames) * u64::from(self.channels) * 4
    }
}

/// Why samples cannot be audio.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[expect(missing_docs, reason = "its message says what each is")]
pub enum AudioError {
    #[error("{given} channels given; 1 or 2 allowed")]
    Channels { given: u16 },
    #[error("{samples} samples do not divide into frames of {channels} channels")]
    Ragged { samples: usize, channels: u16 },
    #[error("frame {frame} holds a value that is not a number")]
    NotANumber { frame: usize },
}

/// Interleaved 32-bit samples of one or two channels, every value finite.
#[derive(Debug, Clone, PartialEq)]
pub struct Audio {
    channels: u16,
    samples: Vec<f32>,
}

impl Audio {
    /// Checks shape and values.
    ///
    /// # Errors
    /// [`AudioError`] for other than 1 or 2 channels, a ragged end, NaN or infinity.
    pub fn new(channels: u16, samples: Vec<f32>) -> Result<Self, AudioError> {
        if !(1..=2).contains(&channels) {
            return Err(AudioError::Channels { given: channels });
        }
        if !samples.len().is_multiple_of(usize::from(channels)) {
            return Err(AudioError::Ragged { samples: samples.len(), channels });
        }
        match samples.iter().position(|s| !s.is_finite()) {
            Some(at) => Err(AudioError::NotANumber { frame: at / usize::from(channels) }),
            None => Ok(Audio { channels, samples }),
        }
    }

    /// Channels, 1 or 2.
    pub fn channels(&self) -> u16 {
        self.channels
    }

    /// Frames in each channel.
    pub fn frames(&self) -> usize {
        self.samples.len() / usize::from(self.channels)
    }

    /// Interleaved samples.
    pub fn samples(&self) -> &[f32] {
        &self.samples
    }

    /// The frame at an index; silence outside.
    #[inline]
    pub fn frame(&self, index: isize) -> [f32; 2] {
        if index < 0 || index as usize >= self.frames() {
            return [0.0; 2];
        }
        let i = index as usize;
        if self.channels == 1 { [self.samples[i]; 2] } else { [self.samples[2 * i], self.samples[2 * i + 1]] }
    }

    /// Largest absolute sample.
    pub fn peak(&self) -> f32 {
        self.samples.iter().fold(0.0, |p, s| p.max(s.abs()))
    }
}

/// Audio that comes in pieces, straight into its place.
#[derive(Debug, Clone)]
pub struct Incoming {
    channels: u16,
    frames: usize,
    samples: Vec<f32>,
    /// Samples that are there and were looked at.
    checked: usize,
}

impl Incoming {
    /// Nothing of it yet. Allocates all of its room at once, without touching it.
    ///
    /// # Errors
    /// [`AudioError::Channels`] for other than 1 or 2 channels.
    pub fn new(channels: u16, frames: usize) -> Result<Self, AudioError> {
        if !(1..=2).contains(&channels) {
            return Err(AudioError::Channels { given: channels });
        }
        let samples = Vec::with_capacity(frames * usize::from(channels));
        Ok(Incoming { channels, frames, samples, checked: 0 })
    }

    /// Where the next so many frames go, at most as many as are missing; interleaved.
    pub fn room(&mut self, frames: usize) -> &mut [f32] {
        let from = self.samples.len();
        let whole = self.frames * usize::from(self.channels);
        self.samples.resize((from + frames * usize::from(self.channels)).min(whole), 0.0);
        &mut self.samples[from..]
    }

    /// Looks at what came since the last call.
    ///
    /// # Errors
    /// [`AudioError::NotANumber`] for NaN or infinity.
    pub fn check(&mut self) -> Result<(), AudioError> {
        let found = self.samples[self.checked..].iter().position(|s| !s.is_finite());
        match found {
            Some(at) => Err(AudioError::NotANumber { frame: (self.checked + at) / usize::from(self.channels) }),
            None => {
                self.checked = self.samples.len();
                Ok(())
            }
        }
    }

    /// The audio once all of it is there and was looked at, else what there is.
    ///
    /// # Errors
    /// Itself while something is missing.
    pub fn whole(self) -> Result<Audio, Incoming> {
        if self.checked == self.frames * usize::from(self.channels) {
            Ok(Audio { channels: self.channels, samples: self.samples })
        } else {
            Err(self)
        }
    }
}

/// The audio at hand, by content address.
pub type AssetBank = BTreeMap<AssetId, Arc<Audio>>;

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn audio_in_pieces_is_the_audio_in_one() {
        let samples: Vec<f32> = (0..1000).map(|n| n as f32 / 1000.0).collect();
        for (channels, piece) in [(1, 1), (1, 333), (2, 100), (2, 5000)] {
            let frames = 1000 / usize::from(channels);
            let (mut incoming, mut done) = (Incoming::new(channels, frames).unwrap(), 0);
            let audio = loop {
                let room = incoming.room(piece);
                room.copy_from_slice(&samples[done..done + room.len()]);
                done += room.len();
                incoming.check().unwrap();
                match incoming.whole() {
                    Ok(audio) => break audio,
                    Err(rest) => incoming = rest,
                }
            };
            assert_eq!(audio, Audio::new(channels, samples.clone()).unwrap());
        }
    }

    #[test]
    fn what_is_no_number_is_told_with_its_frame() {
        let mut incoming = Incoming::new(2, 10).unwrap();
        incoming.room(4)[5] = f32::NAN;
        assert_eq!(incoming.check(), Err(AudioError::NotANumber { frame: 2 }));
        assert_eq!(Incoming::new(3, 10).unwrap_err(), AudioError::Channels { given: 3 });
    }
}
