//! Reading WAV with the faults that recorders leave: sizes of zero or beyond the file, chunks without padding.

use crate::FileError;
use std::io::{Read, Seek, SeekFrom};

/// How samples are stored.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SampleFormat {
    U8,
    I16,
    I24,
    I32,
    F32,
    F64,
}

impl SampleFormat {
    fn bytes(self) -> usize {
        match self {
            SampleFormat::U8 => 1,
            SampleFormat::I16 => 2,
            SampleFormat::I24 => 3,
            SampleFormat::I32 | SampleFormat::F32 => 4,
            SampleFormat::F64 => 8,
        }
    }

    fn sample(self, b: &[u8]) -> f32 {
        match self {
            SampleFormat::U8 => (f32::from(b[0]) - 128.0) / 128.0,
            SampleFormat::I16 => f32::from(i16::from_le_bytes([b[0], b[1]])) / 32_768.0,
            SampleFormat::I24 => (i32::from_le_bytes([0, b[0], b[1], b[2]]) >> 8) as f32 / 8_388_608.0,
            SampleFormat::I32 => (f64::from(i32::from_le_bytes([b[0], b[1], b[2], b[3]])) / 2_147_483_648.0) as f32,
            SampleFormat::F32 => f32::from_le_bytes([b[0], b[1], b[2], b[3]]),
            SampleFormat::F64 => f64::from_le_bytes([b[0], b[1], b[2], b[3], b[4], b[5], b[6], b[7]]) as f32,
        }
    }
}

/// A WAV file whose header has been read.
pub struct WavReader<R> {
    file: R,
    pub channels: usize,
    pub sample_rate: u32,
    pub format: SampleFormat,
    /// Where it starts, in frames since midnight: the time reference of a Broadcast Wave file (EBU Tech 3285).
    pub time_reference: Option<u64>,
    bytes_left: u64,
}

fn damaged(reason: &str) -> FileError {
    FileError::Damaged(reason.into())
}

impl<R: Read + Seek> WavReader<R> {
    /// Whether the first bytes of a file say WAV.
    pub fn is_wav(first: &[u8]) -> bool {
        first.len() >= 12 && matches!(&first[..4], b"RIFF" | b"RF64" | b"BW64") && &first[8..12] == b"WAVE"
    }

    /// Reads the header up to the samples.
    ///
    /// # Errors
    /// [`FileError::Damaged`] where there are no samples or their format is not known.
    pub fn new(mut file: R) -> Result<Self, FileError> {
        let end = file.seek(SeekFrom::End(0))?;
        let mut at = 12;
        let mut format = None;
        let mut long_data_bytes = None;
        let mut time_reference = None;
        while end.saturating_sub(at) >= 8 {
            file.seek(SeekFrom::Start(at))?;
            let mut head = [0; 8];
            file.read_exact(&mut head)?;
            let size = u64::from(u32::from_le_bytes([head[4], head[5], head[6], head[7]]));
            let left = end - at - 8;
            match &head[..4] {
                b"fmt " => format = Some(read_format(&mut file, size.min(left))?),
                b"ds64" if size >= 24 && left >= 24 => {
                    let mut sizes = [0; 24];
                    file.read_exact(&mut sizes)?;
                    long_data_bytes = sizes[8..16].try_into().ok().map(u64::from_le_bytes);
                }
                // Behind description, originator, its reference, date and time.
                b"bext" if size >= 346 && left >= 346 => {
                    let mut text = [0; 346];
                    file.read_exact(&mut text)?;
                    time_reference = text[338..346].try_into().ok().map(u64::from_le_bytes);
                }
                b"data" => {
                    let (channels, sample_rate, format) =
                        format.ok_or_else(|| damaged("the samples come before their format"))?;
                    // Streamed recordings say 0 or all ones; then the samples go to the end of the file.
                    let said = match size {
                        0xFFFF_FFFF => long_data_bytes.unwrap_or(left),
                        0 => left,
                        size => size,
                    };
                    let bytes_left = said.min(left);
                    return Ok(WavReader { file, channels, sample_rate, format, time_reference, bytes_left });
                }
                _ => {}
            }
            // Chunks are padded to even sizes; where a writer forgot, the next name starts one byte early.
            at += 8 + size + if size % 2 == 1 && !starts_name(&mut file, at + 8 + size)? { 1 } else { 0 };
        }
        Err(damaged("it ends before its samples; record or export it again"))
    }

    /// The next samples, interleaved, at most `frames` frames; empty at the end. A broken last frame is dropped.
    pub fn read(&mut self, frames: usize) -> Result<Vec<f32>, FileError> {
        let frame_bytes = self.format.bytes() * self.channels;
        let whole = (self.bytes_left / frame_bytes as u64).min(frames as u64) as usize;
        let mut bytes = vec![0; whole * frame_bytes];
        self.file.read_exact(&mut bytes)?;
        self.bytes_left -= bytes.len() as u64;
        Ok(bytes.chunks_exact(self.format.bytes()).map(|b| self.format.sample(b)).collect())
    }
}

fn starts_name<R: Read + Seek>(file: &mut R, at: u64) -> Result<bool, FileError> {
    file.seek(SeekFrom::Start(at))?;
    let mut name = [0; 4];
    Ok(file.read_exact(&mut name).is_ok() && matches!(&name, b"data" | b"fmt " | b"LIST" | b"bext" | b"fact"))
}

fn read_format<R: Read>(file: &mut R, size: u64) -> Result<(usize, u32, SampleFormat), FileError> {
    if size < 16 {
        return Err(damaged("its format description is too short"));
    }
    let mut f = vec![0; size.min(40) as usize];
    file.read_exact(&mut f)?;
    let word = |at: usize| u16::from_le_bytes([f[at], f[at + 1]]);
    let (mut tag, channels, bits) = (word(0), usize::from(word(2)), word(14));
    let sample_rate = u32::from_le_bytes([f[4], f[5], f[6], f[7]]);
    if tag == 0xFFFE && f.len() >= 26 {
        tag = word(24);
    }
    let format = match (tag, bits) {
        (1, 8) => SampleFormat::U8,
        (1, 16) => SampleFormat::I16,
        (1, 24) => SampleFormat::I24,
        (1, 32) => SampleFormat::I32,
        (3, 32) => SampleFormat::F32,
        (3, 64) => SampleFormat::F64,
        _ => {
            return Err(FileError::Damaged(format!(
                "its samples are of format {tag} with {bits} bits, which cannot be read"
            )));
        }
    };
    if channels == 0 {
        return Err(FileError::Channels { given: 0 });
    }
    Ok((channels, sample_rate, format))
}
