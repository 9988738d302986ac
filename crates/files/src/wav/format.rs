//! How samples are stored in WAV and AIFF files.

use crate::FileError;
use std::io::Read;

/// How samples are stored; little-endian where not said.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SampleFormat {
    U8,
    I8,
    I16,
    I16Be,
    I24,
    I24Be,
    I32,
    I32Be,
    F32,
    F32Be,
    F64,
    F64Be,
    /// ITU-T G.711.
    ALaw,
    /// ITU-T G.711.
    MuLaw,
}

impl SampleFormat {
    /// Bytes of one sample.
    pub fn bytes(self) -> usize {
        match self {
            SampleFormat::U8 | SampleFormat::I8 | SampleFormat::ALaw | SampleFormat::MuLaw => 1,
            SampleFormat::I16 | SampleFormat::I16Be => 2,
            SampleFormat::I24 | SampleFormat::I24Be => 3,
            SampleFormat::I32 | SampleFormat::I32Be | SampleFormat::F32 | SampleFormat::F32Be => 4,
            SampleFormat::F64 | SampleFormat::F64Be => 8,
        }
    }

    fn sample(self, b: &[u8]) -> f32 {
        let i16 = |x: i16| f32::from(x) / 32_768.0;
        let i24 = |x: i32| (x >> 8) as f32 / 8_388_608.0;
        let i32 = |x: i32| (f64::from(x) / 2_147_483_648.0) as f32;
        match self {
            SampleFormat::U8 => (f32::from(b[0]) - 128.0) / 128.0,
            SampleFormat::I8 => f32::from(b[0].cast_signed()) / 128.0,
            SampleFormat::I16 => i16(i16::from_le_bytes([b[0], b[1]])),
            SampleFormat::I16Be => i16(i16::from_be_bytes([b[0], b[1]])),
            SampleFormat::I24 => i24(i32::from_le_bytes([0, b[0], b[1], b[2]])),
            SampleFormat::I24Be => i24(i32::from_be_bytes([b[0], b[1], b[2], 0])),
            SampleFormat::I32 => i32(i32::from_le_bytes([b[0], b[1], b[2], b[3]])),
            SampleFormat::I32Be => i32(i32::from_be_bytes([b[0], b[1], b[2], b[3]])),
            SampleFormat::F32 => f32::from_le_bytes([b[0], b[1], b[2], b[3]]),
            SampleFormat::F32Be => f32::from_be_bytes([b[0], b[1], b[2], b[3]]),
            SampleFormat::F64 => f64::from_le_bytes([b[0], b[1], b[2], b[3], b[4], b[5], b[6], b[7]]) as f32,
            SampleFormat::F64Be => f64::from_be_bytes([b[0], b[1], b[2], b[3], b[4], b[5], b[6], b[7]]) as f32,
            SampleFormat::ALaw => i16(a_law(b[0])),
            SampleFormat::MuLaw => i16(mu_law(b[0])),
        }
    }

    /// The next samples of a file, interleaved, at most `frames` frames and no more than `bytes_left`, which falls;
    /// empty at the end. A broken last frame is dropped.
    pub(crate) fn read<R: Read>(
        self,
        file: &mut R,
        channels: usize,
        frames: usize,
        bytes_left: &mut u64,
    ) -> Result<Vec<f32>, FileError> {
        let frame_bytes = self.bytes() * channels;
        let whole = (*bytes_left / frame_bytes as u64).min(frames as u64) as usize;
        let mut bytes = vec![0; whole * frame_bytes];
        file.read_exact(&mut bytes)?;
        *bytes_left -= bytes.len() as u64;
        Ok(bytes.chunks_exact(self.bytes()).map(|b| self.sample(b)).collect())
    }
}

/// 13 bits of A-law at the upper end of 16 (ITU-T G.711).
fn a_law(byte: u8) -> i16 {
    let x = byte ^ 0x55;
    let (segment, step) = ((x >> 4) & 7, i16::from(x & 15));
    let level = match segment {
        0 => (step << 4) + 8,
        s => ((step << 4) + 0x108) << (s - 1),
    };
    if x & 0x80 == 0 { -level } else { level }
}

/// 14 bits of µ-law at the upper end of 16 (ITU-T G.711).
fn mu_law(byte: u8) -> i16 {
    let x = !byte;
    let (segment, step) = ((x >> 4) & 7, i16::from(x & 15));
    let level = (((step << 3) + 0x84) << segment) - 0x84;
    if x & 0x80 == 0 { level } else { -level }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    // Decoder output values of ITU-T G.711, tables 1a and 2a, at the upper end of 16 bits.
    #[case::a_least(0xD5, a_law(0xD5), 8)]
    #[case::a_most(0xAA, a_law(0xAA), 32_256)]
    #[case::a_most_negative(0x2A, a_law(0x2A), -32_256)]
    #[case::mu_nothing(0xFF, mu_law(0xFF), 0)]
    #[case::mu_most(0x80, mu_law(0x80), 32_124)]
    #[case::mu_most_negative(0x00, mu_law(0x00), -32_124)]
    fn companded_samples_are_the_standards(#[case] _byte: u8, #[case] decoded: i16, #[case] expected: i16) {
        assert_eq!(decoded, expected);
    }
}
