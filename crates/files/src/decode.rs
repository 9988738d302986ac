//! Any audio file as blocks of interleaved samples.

use crate::FileError;
use crate::wav::WavReader;
use lane_core::session::Audio;
use std::fs::File;
use std::io::{Read, Seek, SeekFrom};
use std::panic::{AssertUnwindSafe, catch_unwind};
use symphonia::core::codecs::audio::{AudioDecoder, AudioDecoderOptions};
use symphonia::core::errors::Error;
use symphonia::core::formats::probe::Hint;
use symphonia::core::formats::{FormatReader, TrackType};
use symphonia::core::io::MediaSourceStream;

/// Frames of one block of a WAV file.
const BLOCK: usize = 65_536;
/// Blocks that may fail to decode before a file counts as damaged.
const BAD_PACKETS: usize = 64;

/// An open audio file.
pub struct AudioFile {
    source: Source,
    pub channels: usize,
    pub sample_rate: u32,
    /// Where it starts, in its frames since midnight; only Broadcast Wave files say it.
    pub time_reference: Option<u64>,
}

enum Source {
    Wav(WavReader<File>),
    /// Samples at hand, given once.
    Memory(Vec<f32>),
    Other {
        format: Box<dyn FormatReader>,
        decoder: Box<dyn AudioDecoder>,
        track: u32,
        bad: usize,
        first: Option<Vec<f32>>,
    },
}

/// Runs a decoder of others; a panic in it is a damaged file.
fn guarded<T>(work: impl FnOnce() -> Result<T, FileError>) -> Result<T, FileError> {
    catch_unwind(AssertUnwindSafe(work))
        .unwrap_or_else(|_| Err(FileError::Damaged("its contents contradict each other".into())))
}

fn refused(error: Error) -> FileError {
    match error {
        Error::IoError(_) => FileError::Damaged("it ends too early".into()),
        Error::Unsupported(what) => FileError::Damaged(format!("it uses {what}, which cannot be read")),
        other => FileError::Damaged(other.to_string()),
    }
}

impl AudioFile {
    /// Opens a file by its contents, whatever its name says.
    ///
    /// # Errors
    /// [`FileError`] where it is no audio, is damaged, or has channels or a rate that cannot be used.
    pub fn open(mut file: File) -> Result<Self, FileError> {
        let mut first = Vec::new();
        (&mut file).take(12).read_to_end(&mut first)?;
        file.seek(SeekFrom::Start(0))?;
        if first.is_empty() {
            return Err(FileError::Empty);
        }
        let opened = if WavReader::<File>::is_wav(&first) {
            let wav = WavReader::new(file)?;
            let (channels, sample_rate, time_reference) = (wav.channels, wav.sample_rate, wav.time_reference);
            AudioFile { channels, sample_rate, time_reference, source: Source::Wav(wav) }
        } else {
            guarded(|| open_other(file))?
        };
        if !(1..=2).contains(&opened.channels) {
            return Err(FileError::Channels { given: opened.channels });
        }
        if !(4_000..=384_000).contains(&opened.sample_rate) {
            return Err(FileError::SampleRate { given: opened.sample_rate });
        }
        Ok(opened)
    }

    /// Audio at hand as if it were a file.
    pub fn of(audio: &Audio, sample_rate: u32) -> Self {
        let source = Source::Memory(audio.samples().to_vec());
        AudioFile { source, channels: usize::from(audio.channels()), sample_rate, time_reference: None }
    }

    /// The next samples, interleaved; empty at the end.
    ///
    /// # Errors
    /// [`FileError::Damaged`] where nothing sensible follows.
    pub fn read(&mut self) -> Result<Vec<f32>, FileError> {
        match &mut self.source {
            Source::Wav(wav) => wav.read(BLOCK),
            Source::Memory(samples) => Ok(std::mem::take(samples)),
            Source::Other { first, .. } if first.is_some() => Ok(first.take().unwrap_or_default()),
            Source::Other { format, decoder, track, bad, .. } => {
                guarded(|| next_block(format.as_mut(), decoder.as_mut(), *track, bad).map(|(samples, _, _)| samples))
            }
        }
    }
}

fn open_other(file: File) -> Result<AudioFile, FileError> {
    let stream = MediaSourceStream::new(Box::new(file), Default::default());
    let mut format = symphonia::default::get_probe()
        .probe(&Hint::new(), stream, Default::default(), Default::default())
        .map_err(|_| FileError::Unknown)?;
    let track = format.default_track(TrackType::Audio).ok_or(FileError::Unknown)?;
    let id = track.id;
    let params = track.codec_params.as_ref().and_then(|p| p.audio()).ok_or(FileError::Unknown)?;
    let mut decoder = symphonia::default::get_codecs()
        .make_audio_decoder(params, &AudioDecoderOptions::default())
        .map_err(refused)?;
    let mut bad = 0;
    // Channels and rate are what the first block really has, not what the header promises.
    let (first, channels, sample_rate) = next_block(format.as_mut(), decoder.as_mut(), id, &mut bad)?;
    if first.is_empty() {
        return Err(FileError::NoSamples);
    }
    let source = Source::Other { format, decoder, track: id, bad, first: Some(first) };
    Ok(AudioFile { source, channels, sample_rate, time_reference: None })
}

fn next_block(
    format: &mut dyn FormatReader,
    decoder: &mut dyn AudioDecoder,
    track: u32,
    bad: &mut usize,
) -> Result<(Vec<f32>, usize, u32), FileError> {
    loop {
        let packet = match format.next_packet() {
            Ok(Some(packet)) => packet,
            Ok(None) => return Ok((Vec::new(), 0, 0)),
            Err(Error::IoError(e)) if e.kind() == std::io::ErrorKind::UnexpectedEof => return Ok((Vec::new(), 0, 0)),
            Err(error) => return Err(refused(error)),
        };
        if packet.track_id != track {
            continue;
        }
        match decoder.decode(&packet) {
            Ok(buffer) if buffer.frames() == 0 => {}
            Ok(buffer) => {
                let mut samples = Vec::new();
                buffer.copy_to_vec_interleaved(&mut samples);
                return Ok((samples, buffer.num_planes(), buffer.spec().rate()));
            }
            Err(Error::DecodeError(_)) if *bad < BAD_PACKETS => *bad += 1,
            Err(error) => return Err(refused(error)),
        }
    }
}
