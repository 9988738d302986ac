//! Any audio file as blocks of interleaved samples.
//!
//! WAV and AIFF are read by our own readers, which are as forgiving as people's files need; the rest by symphonia,
//! behind a guard. What a file loses on the way keeps its length as silence, and is told.

use crate::FileError;
use crate::aiff::AiffReader;
use crate::flac::{self, Shortened};
use crate::mp3;
use crate::ogg::{self, Pages};
use crate::wav::WavReader;
use lane_document::session::Audio;
use std::fs::File;
use std::io::{Read, Seek, SeekFrom};
use std::panic::{AssertUnwindSafe, catch_unwind};
use symphonia::core::codecs::audio::{AudioDecoder, AudioDecoderOptions};
use symphonia::core::errors::Error;
use symphonia::core::formats::probe::Hint;
use symphonia::core::formats::{FormatReader, TrackType};
use symphonia::core::io::{MediaSource, MediaSourceStream};

/// Frames of one block of a file that is read by ourselves, and of one block of silence.
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
    /// Frames given so far.
    given: u64,
}

enum Source {
    Wav(WavReader<File>),
    Aiff(AiffReader<File>),
    /// Samples at hand, given once.
    Memory(Vec<f32>),
    Other(Box<Stream>),
}

/// A stream that another's decoder reads.
struct Stream {
    format: Box<dyn FormatReader>,
    decoder: Box<dyn AudioDecoder>,
    track: u32,
    bad: usize,
    /// Blocks that were read already.
    ready: std::collections::VecDeque<Vec<f32>>,
    channels: usize,
    sample_rate: u32,
    /// The frame at which the next block should begin.
    expected: u64,
    /// Frames of silence that stand for what was lost, still to be given.
    silence: u64,
    /// Frames that were lost in the middle.
    lost: u64,
    /// Frames that the file says it has.
    said: Option<u64>,
    /// Where its channels or its rate change, in frames, where they do; reading ends there.
    changes: Option<u64>,
    /// What was seen of it before it was read, for people.
    seen: Vec<String>,
    /// Whether a block that begins later than the one before ended means that something is missing.
    gaps_count: bool,
}

/// Runs a decoder of others; a panic in it is a damaged file.
fn guarded<T>(work: impl FnOnce() -> Result<T, FileError>) -> Result<T, FileError> {
    catch_unwind(AssertUnwindSafe(work))
        .unwrap_or_else(|_| Err(FileError::Damaged("its contents contradict each other".into())))
}

/// What a decoder says, without its jargon.
fn refused(error: Error) -> FileError {
    match error {
        Error::IoError(_) => FileError::Damaged("it ends too early".into()),
        Error::Unsupported(_) => FileError::Unsupported("sound coded in a way that this program does not know".into()),
        Error::LimitError(_) => FileError::Damaged("a part of it says that it is larger than it can be".into()),
        _ => FileError::Damaged("a part of it makes no sense".into()),
    }
}

/// What the first bytes of a file say it is, where its contents are then not what they should be.
fn kind_of(first: &[u8]) -> Option<&'static str> {
    let kinds: [(&[u8], &str); 5] =
        [(b"fLaC", "FLAC"), (b"OggS", "Ogg"), (b"ID3", "MP3"), (b"FORM", "AIFF"), (b"RIFF", "WAV")];
    kinds.iter().find(|(magic, _)| first.starts_with(magic)).map(|(_, kind)| *kind)
}

impl AudioFile {
    /// Opens a file by its contents, whatever its name says. The file must be ours: small faults are mended in it.
    ///
    /// # Errors
    /// [`FileError`] where it is no audio, is damaged, or has channels or a rate that cannot be used.
    pub fn open(mut file: File) -> Result<Self, FileError> {
        let mut first = Vec::new();
        (&mut file).take(64).read_to_end(&mut first)?;
        file.seek(SeekFrom::Start(0))?;
        if first.is_empty() {
            return Err(FileError::Empty);
        }
        let opened = if WavReader::<File>::is_wav(&first) {
            let wav = WavReader::new(file)?;
            let (channels, sample_rate, time_reference) = (wav.channels, wav.sample_rate, wav.time_reference);
            AudioFile { channels, sample_rate, time_reference, source: Source::Wav(wav), given: 0 }
        } else if AiffReader::<File>::is_aiff(&first) {
            let aiff = AiffReader::new(file)?;
            let (channels, sample_rate) = (aiff.channels, aiff.sample_rate);
            AudioFile { channels, sample_rate, time_reference: None, source: Source::Aiff(aiff), given: 0 }
        } else {
            if first.starts_with(b"OggS") && first.windows(8).any(|w| w == b"OpusHead") {
                return Err(FileError::Unsupported("Opus".into()));
            }
            guarded(|| open_other(file, &first))?
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
        AudioFile { source, channels: usize::from(audio.channels()), sample_rate, time_reference: None, given: 0 }
    }

    /// The next samples, interleaved; empty at the end.
    ///
    /// # Errors
    /// [`FileError::Damaged`] where nothing sensible follows.
    pub fn read(&mut self) -> Result<Vec<f32>, FileError> {
        let block = match &mut self.source {
            Source::Wav(wav) => wav.read(BLOCK)?,
            Source::Aiff(aiff) => aiff.read(BLOCK)?,
            Source::Memory(samples) => std::mem::take(samples),
            Source::Other(stream) => guarded(|| stream.read())?,
        };
        self.given += (block.len() / self.channels) as u64;
        Ok(block)
    }

    /// What was missing in the file once it was read to its end, for people.
    pub fn remarks(&self) -> Vec<String> {
        let mut remarks = Vec::new();
        let (said, lost, changes) = match &self.source {
            Source::Wav(wav) => (Some(wav.said_frames), 0, None),
            Source::Aiff(aiff) => (Some(aiff.said_frames), 0, None),
            Source::Memory(_) => (None, 0, None),
            Source::Other(stream) => (stream.said, stream.lost, stream.changes),
        };
        match &self.source {
            Source::Wav(wav) => remarks.extend(wav.remarks.iter().cloned()),
            Source::Other(stream) => remarks.extend(stream.seen.iter().cloned()),
            Source::Aiff(_) | Source::Memory(_) => {}
        }
        if lost > 0 {
            remarks.push(format!("{lost} frames are damaged; they are silent, and what follows stands where it was."));
        }
        if let Some(at) = changes {
            remarks.push(format!("Its channels or its sample rate change at frame {at}, or another file is joined to it there; what follows is left out."));
        } else if let Some(said) = said.filter(|said| *said > self.given) {
            remarks.push(format!(
                "The file is cut off: it says {said} frames, and {} are there; {} are missing at its end.",
                self.given,
                said - self.given
            ));
        }
        remarks
    }
}

impl MediaSource for Shortened {
    fn is_seekable(&self) -> bool {
        true
    }

    fn byte_len(&self) -> Option<u64> {
        Some(self.len())
    }
}

fn open_other(mut file: File, first: &[u8]) -> Result<AudioFile, FileError> {
    let mut seen = Vec::new();
    let mut gaps_count = true;
    let end = if flac::is_flac(first) {
        // A file that is not ours to write stays as it is.
        let _ = flac::mend_block_size(&mut file);
        let (end, remark) = flac::end_of_frames(&mut file)?;
        seen.extend(remark);
        end
    } else {
        if ogg::is_ogg(first) {
            let Pages { ended, holes } = ogg::pages(&mut file)?;
            gaps_count = holes;
            if !ended {
                seen.push("The file is cut off: its last page is missing, and what was on it.".into());
            }
        } else if let Some(at) = mp3::another(&mut file)? {
            seen.push(format!(
                "Another MP3 file is joined to it at byte {at} and was left out; cut the file there to bring both in."
            ));
        }
        file.seek(SeekFrom::End(0))?
    };
    let unknown = || match kind_of(first) {
        Some(kind) => FileError::Damaged(format!("it begins as {kind}, and what follows is none")),
        None => FileError::Unknown,
    };
    let source = MediaSourceStream::new(Box::new(Shortened::new(file, end)?), Default::default());
    let format = symphonia::default::get_probe()
        .probe(&Hint::new(), source, Default::default(), Default::default())
        .map_err(|_| unknown())?;
    let track = format.default_track(TrackType::Audio).ok_or_else(unknown)?;
    let (id, said) = (track.id, track.num_frames);
    let params = track.codec_params.as_ref().and_then(|p| p.audio()).ok_or_else(unknown)?;
    let decoder = symphonia::default::get_codecs()
        .make_audio_decoder(params, &AudioDecoderOptions::default())
        .map_err(refused)?;
    let mut stream = Stream {
        format,
        decoder,
        track: id,
        bad: 0,
        ready: Default::default(),
        channels: 0,
        sample_rate: 0,
        expected: 0,
        silence: 0,
        lost: 0,
        said,
        changes: None,
        seen,
        gaps_count,
    };
    // Channels and rate are what the first block really has, not what the header promises.
    let first = stream.read()?;
    if first.is_empty() {
        return Err(FileError::NoSamples);
    }
    let (channels, sample_rate) = (stream.channels, stream.sample_rate);
    stream.ready.push_front(first);
    Ok(AudioFile { source: Source::Other(Box::new(stream)), channels, sample_rate, time_reference: None, given: 0 })
}

impl Stream {
    fn read(&mut self) -> Result<Vec<f32>, FileError> {
        if self.silence == 0
            && let Some(block) = self.ready.pop_front()
        {
            return Ok(block);
        }
        if self.silence == 0 && !self.decode_next()? {
            return Ok(Vec::new());
        }
        let frames = self.silence.min(BLOCK as u64);
        self.silence -= frames;
        if frames > 0 {
            return Ok(vec![0.0; frames as usize * self.channels]);
        }
        Ok(self.ready.pop_front().unwrap_or_default())
    }

    /// Decodes a block, and says how much silence stands before it; false at the end.
    fn decode_next(&mut self) -> Result<bool, FileError> {
        loop {
            if self.changes.is_some() {
                return Ok(false);
            }
            let packet = match self.format.next_packet() {
                Ok(Some(packet)) => packet,
                Ok(None) => return Ok(false),
                Err(Error::IoError(e)) if e.kind() == std::io::ErrorKind::UnexpectedEof => return Ok(false),
                // What was read stays; the rest is told as missing.
                Err(Error::ResetRequired) => {
                    self.changes = Some(self.expected);
                    return Ok(false);
                }
                Err(error) => return Err(refused(error)),
            };
            if packet.track_id != self.track {
                continue;
            }
            let begins = packet.pts.get().max(0).unsigned_abs();
            match self.decoder.decode(&packet) {
                Ok(buffer) if buffer.frames() == 0 => {}
                Ok(buffer) => {
                    let (channels, rate) = (buffer.num_planes(), buffer.spec().rate());
                    if self.channels == 0 {
                        (self.channels, self.sample_rate) = (channels, rate);
                        // Where a stream begins is its beginning.
                        self.expected = begins;
                    }
                    if (channels, rate) != (self.channels, self.sample_rate) {
                        self.changes = Some(self.expected);
                        return Ok(false);
                    }
                    let mut samples = Vec::new();
                    buffer.copy_to_vec_interleaved(&mut samples);
                    let gap = if self.gaps_count { begins.saturating_sub(self.expected) } else { 0 };
                    self.lost += gap;
                    self.silence = gap;
                    self.expected += gap + (samples.len() / channels) as u64;
                    self.ready.push_back(samples);
                    return Ok(true);
                }
                Err(Error::DecodeError(_)) if self.bad < BAD_PACKETS => self.bad += 1,
                Err(error) => return Err(refused(error)),
            }
        }
    }
}
