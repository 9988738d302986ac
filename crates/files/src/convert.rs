//! A file at the session rate, block by block, so that its length does not matter for memory.

use crate::FileError;
use crate::asset::{AssetHasher, pcm_bytes, pcm_samples};
use crate::decode::AudioFile;
use lane_document::session::{Audio, limits};
use lane_units::AssetId;
use rubato::audioadapter_buffers::direct::InterleavedSlice;
use rubato::{Fft, FixedSync, Indexing, Resampler, ResamplerConstructionError, WindowFunction};
use std::fs::File;
use std::io::{BufReader, BufWriter, Read, Seek, SeekFrom, Write};

/// Frames that go through the resampler at a time.
const CHUNK: usize = 4096;
/// Seconds kept at hand for a look at the sound.
const HEAD_SECONDS: usize = 10;

/// A file as it is kept: 32-bit float samples at the session rate.
pub struct Converted {
    pub id: AssetId,
    pub channels: u16,
    pub sample_rate: u32,
    pub frames: u32,
    /// Where it starts, in frames since midnight at its new rate, where the file says so.
    pub time_reference: Option<u64>,
    /// What is missing in it or was taken otherwise, for people.
    pub remarks: Vec<String>,
    /// Its largest absolute sample.
    pub peak: f32,
    /// Its first seconds.
    pub head: Audio,
    /// Interleaved little-endian samples.
    pub pcm: File,
}

/// Reads a file whole, converts it to `sample_rate` in Hz, and makes mono of two equal channels.
///
/// # Errors
/// [`FileError`] with what is wrong with the file and what to do.
pub fn convert(file: File, sample_rate: u32) -> Result<Converted, FileError> {
    convert_while(file, sample_rate, &|| true)
}

/// As [`convert`], as long as somebody waits for it: asked before each block.
///
/// # Errors
/// As with `convert`; [`FileError::CalledOff`] once nobody does.
pub fn convert_while(file: File, sample_rate: u32, asked: &dyn Fn() -> bool) -> Result<Converted, FileError> {
    at_rate(AudioFile::open(file)?, sample_rate, asked)
}

/// Audio at hand at another rate.
///
/// # Errors
/// [`FileError`] where it is empty or a temporary file fails.
pub fn resampled(audio: &Audio, from: u32, to: u32) -> Result<Audio, FileError> {
    at_rate(AudioFile::of(audio, from), to, &|| true)?.audio()
}

/// The next block of a file, as long as somebody waits for it.
fn next_block(audio: &mut AudioFile, asked: &dyn Fn() -> bool) -> Result<Vec<f32>, FileError> {
    if asked() { audio.read() } else { Err(FileError::CalledOff) }
}

fn at_rate(mut audio: AudioFile, sample_rate: u32, asked: &dyn Fn() -> bool) -> Result<Converted, FileError> {
    let mut spool = Spool::new(audio.channels, sample_rate)?;
    if audio.sample_rate == sample_rate {
        loop {
            let block = next_block(&mut audio, asked)?;
            if block.is_empty() {
                break;
            }
            check_values(&block, spool.frames, audio.channels)?;
            spool.take(&block)?;
        }
    } else {
        resample(&mut audio, sample_rate, &mut spool, asked)?;
    }
    let time_reference =
        audio.time_reference.map(|t| (t as f64 * f64::from(sample_rate) / f64::from(audio.sample_rate)).round() as u64);
    Ok(Converted { time_reference, remarks: audio.remarks(), ..spool.finish()? })
}

/// Samples beyond this are no sound, and their sums no numbers: 120 dB over full scale.
const MOST: f32 = 1e6;

fn check_values(block: &[f32], before: u64, channels: usize) -> Result<(), FileError> {
    let Some(at) = block.iter().position(|s| !s.is_finite() || s.abs() > MOST) else { return Ok(()) };
    let frame = before + (at / channels) as u64;
    Err(if block[at].is_finite() { FileError::FarOver { frame } } else { FileError::NotANumber { frame } })
}

/// A resampler whose delay is a whole number of frames on both sides: half its transforms, so both must be even.
/// Transforms are whole multiples of the ratio's smallest terms, here of twice those.
fn resampler(from: u32, to: u32, channels: usize) -> Result<Fft<f32>, ResamplerConstructionError> {
    let pair = 2 * (from / gcd(from, to)) as usize;
    let chunk = CHUNK.div_ceil(pair) * pair;
    let window = WindowFunction::BlackmanHarris2;
    Fft::new_custom(from as usize, to as usize, chunk, 1, channels, window, FixedSync::Input)
}

fn gcd(a: u32, b: u32) -> u32 {
    if b == 0 { a } else { gcd(b, a % b) }
}

fn resample(
    audio: &mut AudioFile,
    sample_rate: u32,
    spool: &mut Spool,
    asked: &dyn Fn() -> bool,
) -> Result<(), FileError> {
    let channels = audio.channels;
    let broken = |e: &dyn std::fmt::Display| FileError::Damaged(format!("it cannot be converted: {e}"));
    let mut fft = resampler(audio.sample_rate, sample_rate, channels).map_err(|e| broken(&e))?;
    let mut skip = fft.output_delay();
    let mut waiting: Vec<f32> = Vec::new();
    let mut out = vec![0.0; fft.output_frames_max() * channels];
    let mut read: u64 = 0;
    let mut ended = false;
    loop {
        let wanted = fft.input_frames_next();
        while !ended && waiting.len() < wanted * channels {
            let block = next_block(audio, asked)?;
            ended = block.is_empty();
            check_values(&block, read, channels)?;
            read += (block.len() / channels) as u64;
            waiting.extend(block);
        }
        let goal = (read as f64 * f64::from(sample_rate) / f64::from(audio.sample_rate)).round() as u64;
        if ended && spool.frames >= goal {
            return Ok(());
        }
        let have = (waiting.len() / channels).min(wanted);
        waiting.resize(waiting.len().max(wanted * channels), 0.0);
        let input = InterleavedSlice::new(&waiting[..wanted * channels], channels, wanted).map_err(|e| broken(&e))?;
        let room = out.len() / channels;
        let mut output = InterleavedSlice::new_mut(&mut out, channels, room).map_err(|e| broken(&e))?;
        let indexing = Indexing::new().partial_len(have);
        let (_, written) = fft
            .process_into_buffer(&input, &mut output, (have < wanted).then_some(&indexing))
            .map_err(|e| broken(&e))?;
        waiting.drain(..wanted * channels);
        let from = skip.min(written);
        skip -= from;
        // At the end, what the filter rings on behind the last frame is left out.
        let keep = if ended { (written - from).min((goal - spool.frames) as usize) } else { written - from };
        spool.take(&out[from * channels..(from + keep) * channels])?;
    }
}

/// Samples on their way to a temporary file.
struct Spool {
    file: BufWriter<File>,
    channels: usize,
    sample_rate: u32,
    frames: u64,
    equal: bool,
    peak: f32,
    head: Vec<f32>,
}

impl Spool {
    fn new(channels: usize, sample_rate: u32) -> Result<Self, FileError> {
        let file = BufWriter::with_capacity(1 << 18, tempfile::tempfile()?);
        Ok(Spool { file, channels, sample_rate, frames: 0, equal: true, peak: 0.0, head: Vec::new() })
    }

    fn take(&mut self, samples: &[f32]) -> Result<(), FileError> {
        self.frames += (samples.len() / self.channels) as u64;
        if self.frames > u64::from(limits::RECORDING_SECONDS) * u64::from(self.sample_rate) {
            return Err(FileError::TooLong { limit_minutes: limits::RECORDING_SECONDS / 60 });
        }
        if self.equal && self.channels == 2 {
            self.equal = samples.chunks_exact(2).all(|f| f[0] == f[1]);
        }
        self.peak = samples.iter().fold(self.peak, |peak, s| peak.max(s.abs()));
        let room = (HEAD_SECONDS * self.sample_rate as usize * self.channels).saturating_sub(self.head.len());
        self.head.extend(&samples[..samples.len().min(room)]);
        self.file.write_all(&pcm_bytes(samples))?;
        Ok(())
    }

    fn finish(self) -> Result<Converted, FileError> {
        if self.frames == 0 {
            return Err(FileError::NoSamples);
        }
        let mut pcm = self.file.into_inner().map_err(|e| FileError::Io(e.into_error()))?;
        let mut head = self.head;
        let mut channels = self.channels as u16;
        if channels == 2 && self.equal {
            pcm = left_only(pcm)?;
            head = head.into_iter().step_by(2).collect();
            channels = 1;
        }
        pcm.seek(SeekFrom::Start(0))?;
        let mut hasher = AssetHasher::default();
        let mut buffer = vec![0; 1 << 18];
        loop {
            let count = pcm.read(&mut buffer)?;
            if count == 0 {
                break;
            }
            hasher.take(&buffer[..count]);
        }
        pcm.seek(SeekFrom::Start(0))?;
        let head = Audio::new(channels, head).map_err(|e| FileError::Damaged(e.to_string()))?;
        Ok(Converted {
            id: hasher.finish(channels, self.sample_rate),
            channels,
            sample_rate: self.sample_rate,
            frames: self.frames as u32,
            time_reference: None,
            remarks: Vec::new(),
            peak: self.peak,
            head,
            pcm,
        })
    }
}

fn left_only(mut stereo: File) -> Result<File, FileError> {
    stereo.seek(SeekFrom::Start(0))?;
    let mut input = BufReader::with_capacity(1 << 18, stereo);
    let mut mono = BufWriter::with_capacity(1 << 18, tempfile::tempfile()?);
    let mut frame = [0; 8];
    while input.read_exact(&mut frame).is_ok() {
        mono.write_all(&frame[..4])?;
    }
    mono.into_inner().map_err(|e| FileError::Io(e.into_error()))
}

impl Converted {
    /// All its samples.
    ///
    /// # Errors
    /// [`FileError::Io`] where the temporary file cannot be read.
    pub fn audio(mut self) -> Result<Audio, FileError> {
        let mut bytes = Vec::new();
        self.pcm.read_to_end(&mut bytes)?;
        Audio::new(self.channels, pcm_samples(&bytes)).map_err(|e| FileError::Damaged(e.to_string()))
    }
}
