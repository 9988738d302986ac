//! Why files are refused.

/// Why a file was refused: what is wrong with it and what to do.
#[derive(Debug, thiserror::Error)]
pub enum FileError {
    #[error("the file is empty")]
    Empty,
    #[error("this is not an audio or MIDI file that can be read; WAV, AIFF, FLAC, MP3, OGG and MID are")]
    Unknown,
    #[error("the file is damaged: {0}")]
    Damaged(String),
    #[error("the file holds {0}, which is not read here. Convert it to WAV or FLAC and drop that")]
    Unsupported(String),
    #[error("the file has {given} channels; 1 or 2 can be brought in. Split it into mono or stereo files")]
    Channels { given: usize },
    #[error("the file says {given} Hz; 4000 to 384000 Hz can be brought in")]
    SampleRate { given: u32 },
    #[error("the recording is longer than {limit_minutes} minutes. Cut it and drop the parts")]
    TooLong { limit_minutes: u32 },
    #[error("the file holds values that are not numbers, the first at frame {frame}. Export it again")]
    NotANumber { frame: u64 },
    #[error(
        "the file holds values over 120 dB above full scale, the first at frame {frame}; they are no sound. Export it again"
    )]
    FarOver { frame: u64 },
    #[error("the file has no samples")]
    NoSamples,
    #[error("the MIDI file has no notes")]
    NoNotes,
    #[error("{path}: {reason}")]
    Folder { path: String, reason: String },
    #[error("it was called off")]
    CalledOff,
    #[error("reading or writing failed: {0}")]
    Io(#[from] std::io::Error),
}
