//! The content address of audio: SHA-256 over its samples as little-endian 32-bit floats, then over
//! channels and sample rate as little-endian 32-bit integers.

use lane_document::session::Audio;
use lane_units::AssetId;
use sha2::{Digest, Sha256};
use std::fmt::Write;

/// Lower-case hexadecimal text of bytes.
pub fn hex(bytes: &[u8]) -> String {
    bytes.iter().fold(String::with_capacity(bytes.len() * 2), |mut text, b| {
        // Writing to a string cannot fail.
        let _ = write!(text, "{b:02x}");
        text
    })
}

/// Computes the address of audio that passes by.
#[derive(Default)]
pub struct AssetHasher(Sha256);

impl AssetHasher {
    /// Little-endian 32-bit floats, interleaved.
    pub fn take(&mut self, pcm: &[u8]) {
        self.0.update(pcm);
    }

    pub fn finish(mut self, channels: u16, sample_rate: u32) -> AssetId {
        self.0.update(u32::from(channels).to_le_bytes());
        self.0.update(sample_rate.to_le_bytes());
        AssetId(hex(&self.0.finalize()))
    }
}

/// Samples as little-endian bytes.
pub fn pcm_bytes(samples: &[f32]) -> Vec<u8> {
    samples.iter().flat_map(|s| s.to_le_bytes()).collect()
}

/// Bytes as samples; a ragged end is dropped.
pub fn pcm_samples(bytes: &[u8]) -> Vec<f32> {
    bytes.chunks_exact(4).map(|b| f32::from_le_bytes([b[0], b[1], b[2], b[3]])).collect()
}

/// The address of audio at a sample rate in Hz.
pub fn asset_id(audio: &Audio, sample_rate: u32) -> AssetId {
    let mut hasher = AssetHasher::default();
    hasher.take(&pcm_bytes(audio.samples()));
    hasher.finish(audio.channels(), sample_rate)
}

/// Writes samples as little-endian 32-bit floats.
///
/// # Errors
/// Those of the writer.
pub fn write_pcm(audio: &Audio, to: &mut dyn std::io::Write) -> std::io::Result<()> {
    audio.samples().chunks(1 << 16).try_for_each(|piece| to.write_all(&pcm_bytes(piece)))
}
