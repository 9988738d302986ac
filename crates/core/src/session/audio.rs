//! Decoded audio as the engine plays it, and what the document knows of it.

use crate::units::{AssetId, FileName};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use std::sync::Arc;

/// What a document knows of one piece of audio without having it at hand.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct AssetRef {
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

/// Why samples cannot be audio.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
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

    pub fn channels(&self) -> u16 {
        self.channels
    }

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

/// The audio at hand, by content address.
pub type AssetBank = BTreeMap<AssetId, Arc<Audio>>;
