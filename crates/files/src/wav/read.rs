//! Reading WAV with the faults that recorders leave: sizes of zero or beyond the file, chunks without padding.

use super::SampleFormat;
use crate::FileError;
use std::io::{Read, Seek, SeekFrom};

/// A WAV file whose header has been read.
pub struct WavReader<R> {
    file: R,
    pub channels: usize,
    pub sample_rate: u32,
    pub format: SampleFormat,
    /// Where it starts, in frames since midnight: the time reference of a Broadcast Wave file (EBU Tech 3285).
    pub time_reference: Option<u64>,
    bytes_left: u64,
    /// Frames that the file says it has.
    pub said_frames: u64,
    /// What was taken otherwise than it stands there, for people.
    pub remarks: Vec<String>,
}

/// Sizes from here on are what recorders write that do not know yet, or what was never a size.
const UNKNOWN_BYTES: u64 = 1 << 40;
/// The same of a size in 32 bits that lies beyond the file: all ones, or the largest that some programs count to.
const UNKNOWN_SHORT: u64 = 0x7FFF_0000;

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
        let mut remarks = Vec::new();
        let mut long_data_bytes = None;
        let mut time_reference = None;
        while end.saturating_sub(at) >= 8 {
            let (name, size) = chunk_head(&mut file, at)?;
            let left = end - at - 8;
            match &name {
                b"fmt " if format.is_some() => {
                    remarks.push("It describes its samples twice; the first description counts.".to_owned());
                }
                b"fmt " => format = Some(read_format(&mut file, size.min(left))?),
                b"ds64" if size >= 24 && left >= 24 => {
                    let mut sizes = [0; 24];
                    file.read_exact(&mut sizes)?;
                    let long = |from: usize| sizes[from..from + 8].try_into().map(u64::from_le_bytes).unwrap_or(0);
                    // Beyond the file it counts where the size of the whole agrees.
                    let (whole, data) = (long(0), long(8));
                    let agrees = data <= left || (data < UNKNOWN_BYTES && whole >= data);
                    long_data_bytes = Some(data).filter(|data| *data > 0 && agrees);
                }
                b"bext" => time_reference = read_reference(&mut file, &name, size.min(left))?,
                b"data" => {
                    let (channels, sample_rate, format) =
                        format.ok_or_else(|| damaged("the samples come before their format"))?;
                    // Streamed recordings say 0 or all ones; then the samples go to the end of the file.
                    let said = match (size, long_data_bytes) {
                        (0xFFFF_FFFF, Some(long)) => long,
                        (0, _) => left,
                        (size, _) if size > left && size >= UNKNOWN_SHORT => left,
                        (size, _) => size,
                    };
                    let bytes_left = said.min(left);
                    let said_frames = said / (format.bytes() * channels) as u64;
                    // Some programs write where a file starts behind its samples.
                    let mut behind = at + 8 + said + said % 2;
                    while time_reference.is_none() && end.saturating_sub(behind) >= 8 {
                        let (name, size) = chunk_head(&mut file, behind)?;
                        time_reference = read_reference(&mut file, &name, size.min(end - behind - 8))?;
                        behind += 8 + size + size % 2;
                    }
                    file.seek(SeekFrom::Start(at + 8))?;
                    return Ok(WavReader {
                        file,
                        channels,
                        sample_rate,
                        format,
                        time_reference,
                        bytes_left,
                        said_frames,
                        remarks,
                    });
                }
                _ => {}
            }
            // Chunks are padded to even sizes; where a writer forgot, the next name starts one byte early.
            at += 8 + size + if size % 2 == 1 && !starts_name(&mut file, at + 8 + size)? { 1 } else { 0 };
        }
        Err(damaged("it ends before its samples; record or export it again"))
    }

    /// The next samples, interleaved, at most `frames` frames; empty at the end. A broken last frame is dropped.
    ///
    /// # Errors
    /// [`FileError::Io`] where the file cannot be read.
    pub fn read(&mut self, frames: usize) -> Result<Vec<f32>, FileError> {
        self.format.read(&mut self.file, self.channels, frames, &mut self.bytes_left)
    }
}

fn chunk_head<R: Read + Seek>(file: &mut R, at: u64) -> Result<([u8; 4], u64), FileError> {
    file.seek(SeekFrom::Start(at))?;
    let mut head = [0; 8];
    file.read_exact(&mut head)?;
    let [a, b, c, d, size @ ..] = head;
    Ok(([a, b, c, d], u64::from(u32::from_le_bytes(size))))
}

/// The time reference of a Broadcast Wave chunk, which the file stands at: behind description, originator, its
/// reference, date and time.
fn read_reference<R: Read>(file: &mut R, name: &[u8; 4], size: u64) -> Result<Option<u64>, FileError> {
    if name != b"bext" || size < 346 {
        return Ok(None);
    }
    let mut text = [0; 346];
    file.read_exact(&mut text)?;
    Ok(text[338..346].try_into().ok().map(u64::from_le_bytes))
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
    if channels == 0 {
        return Err(FileError::Channels { given: 0 });
    }
    // Samples of 12 or 20 bits stand at the upper end of a container of whole bytes.
    let container = usize::from(word(12)) / channels;
    let format = match (tag, bits, container) {
        (1, 1..=8, 1) => SampleFormat::U8,
        (1, 9..=16, 2) => SampleFormat::I16,
        (1, 17..=24, 3) => SampleFormat::I24,
        (1, 17..=32, 4) => SampleFormat::I32,
        (3, 32, _) => SampleFormat::F32,
        (3, 64, _) => SampleFormat::F64,
        (6, 8, _) => SampleFormat::ALaw,
        (7, 8, _) => SampleFormat::MuLaw,
        _ => return Err(FileError::Unsupported(format!("{} of {bits} bits", coding(tag)))),
    };
    Ok((channels, sample_rate, format))
}

/// The name of a way to store samples, by its registered number (RFC 2361).
fn coding(tag: u16) -> String {
    let name = match tag {
        1 => "integer samples",
        2 | 0x11 => "ADPCM",
        3 => "float samples",
        0x31 => "GSM 6.10",
        0x50 | 0x55 => "MPEG audio inside WAV",
        0x161..=0x163 => "Windows Media Audio",
        0xFF => "AAC inside WAV",
        _ => return format!("samples of format {tag}"),
    };
    name.into()
}
