//! Reading AIFF and AIFF-C. Source: Apple, "Audio Interchange File Format: AIFF" 1.3 and "AIFF-C" draft of 1991.
//!
//! Outer sizes that are wrong or zero, as recorders leave them, do not matter; an offset of the samples does.

use crate::FileError;
use crate::wav::SampleFormat;
use std::io::{Read, Seek, SeekFrom};

/// An AIFF file whose header has been read.
pub struct AiffReader<R> {
    file: R,
    pub channels: usize,
    pub sample_rate: u32,
    format: SampleFormat,
    bytes_left: u64,
    /// Frames that the file says it has.
    pub said_frames: u64,
}

struct Common {
    channels: usize,
    frames: u64,
    sample_rate: u32,
    format: SampleFormat,
}

impl<R: Read + Seek> AiffReader<R> {
    /// Whether the first bytes of a file say AIFF or AIFF-C.
    pub fn is_aiff(first: &[u8]) -> bool {
        first.len() >= 12 && &first[..4] == b"FORM" && matches!(&first[8..12], b"AIFF" | b"AIFC")
    }

    /// Reads the header up to the samples.
    ///
    /// # Errors
    /// [`FileError::Damaged`] where there are no samples or no description of them; [`FileError::Unsupported`] where
    /// they are compressed in a way that is not read.
    pub fn new(mut file: R) -> Result<Self, FileError> {
        let end = file.seek(SeekFrom::End(0))?;
        let mut at = 12;
        let mut common: Option<Common> = None;
        let mut samples: Option<(u64, u64)> = None;
        while end.saturating_sub(at) >= 8 {
            file.seek(SeekFrom::Start(at))?;
            let mut head = [0; 8];
            file.read_exact(&mut head)?;
            let size = u64::from(u32::from_be_bytes([head[4], head[5], head[6], head[7]]));
            let left = end - at - 8;
            match &head[..4] {
                b"COMM" => common = Some(read_common(&mut file, size.min(left))?),
                b"SSND" if left >= 8 => {
                    let mut offset = [0; 4];
                    file.read_exact(&mut offset)?;
                    let offset = u64::from(u32::from_be_bytes(offset)).min(left - 8);
                    // Streamed recordings say 0 or all ones; then the samples go to the end of the file.
                    let said = if size < 8 || size == u64::from(u32::MAX) { left } else { size.min(left) };
                    samples = Some((at + 16 + offset, said.saturating_sub(8 + offset)));
                }
                _ => {}
            }
            if common.is_some() && samples.is_some() {
                break;
            }
            at += 8 + size + size % 2;
        }
        let common = common.ok_or_else(|| FileError::Damaged("it does not say what its samples are".into()))?;
        let (start, bytes) = samples
            .ok_or_else(|| FileError::Damaged("it ends before its samples; record or export it again".into()))?;
        file.seek(SeekFrom::Start(start))?;
        let Common { channels, frames, sample_rate, format } = common;
        let frame_bytes = (format.bytes() * channels) as u64;
        // What follows the frames that it says it has is padding.
        let said = if frames == 0 { u64::MAX } else { frames.saturating_mul(frame_bytes) };
        let said_frames = if frames == 0 { bytes / frame_bytes } else { frames };
        Ok(AiffReader { file, channels, sample_rate, format, bytes_left: bytes.min(said), said_frames })
    }

    /// The next samples, interleaved, at most `frames` frames; empty at the end. A broken last frame is dropped.
    ///
    /// # Errors
    /// [`FileError::Io`] where the file cannot be read.
    pub fn read(&mut self, frames: usize) -> Result<Vec<f32>, FileError> {
        self.format.read(&mut self.file, self.channels, frames, &mut self.bytes_left)
    }
}

fn read_common<R: Read>(file: &mut R, size: u64) -> Result<Common, FileError> {
    if size < 18 {
        return Err(FileError::Damaged("its format description is too short".into()));
    }
    let mut c = vec![0; size.min(22) as usize];
    file.read_exact(&mut c)?;
    let channels = usize::from(u16::from_be_bytes([c[0], c[1]]));
    let frames = u64::from(u32::from_be_bytes([c[2], c[3], c[4], c[5]]));
    let bits = u16::from_be_bytes([c[6], c[7]]);
    let sample_rate = extended(&c[8..18]);
    if channels == 0 {
        return Err(FileError::Channels { given: 0 });
    }
    let code: [u8; 4] = if c.len() >= 22 { [c[18], c[19], c[20], c[21]] } else { *b"NONE" };
    let big = |bits: u16| match bits.div_ceil(8) {
        1 => Some(SampleFormat::I8),
        2 => Some(SampleFormat::I16Be),
        3 => Some(SampleFormat::I24Be),
        4 => Some(SampleFormat::I32Be),
        _ => None,
    };
    let format = match &code {
        b"NONE" | b"twos" => big(bits),
        b"in24" => Some(SampleFormat::I24Be),
        b"in32" => Some(SampleFormat::I32Be),
        b"sowt" if bits <= 16 => Some(SampleFormat::I16),
        b"sowt" if bits <= 24 => Some(SampleFormat::I24),
        b"raw " => Some(SampleFormat::U8),
        b"fl32" | b"FL32" => Some(SampleFormat::F32Be),
        b"fl64" | b"FL64" => Some(SampleFormat::F64Be),
        b"alaw" | b"ALAW" => Some(SampleFormat::ALaw),
        b"ulaw" | b"ULAW" => Some(SampleFormat::MuLaw),
        _ => None,
    };
    let format = format.ok_or_else(|| {
        FileError::Unsupported(format!("AIFF-C compression “{}” of {bits} bits", String::from_utf8_lossy(&code)))
    })?;
    Ok(Common { channels, frames, sample_rate, format })
}

/// A number in 80-bit extended precision (IEEE 754), rounded; 0 where it is no sample rate.
fn extended(b: &[u8]) -> u32 {
    let exponent = i32::from(u16::from_be_bytes([b[0] & 0x7F, b[1]])) - 16_383 - 63;
    let mantissa = b[2..10].iter().fold(0_u64, |m, byte| m << 8 | u64::from(*byte));
    let rate = mantissa as f64 * 2_f64.powi(exponent.clamp(-1000, 1000));
    if b[0] & 0x80 == 0 && rate < f64::from(u32::MAX) { rate.round() as u32 } else { 0 }
}
