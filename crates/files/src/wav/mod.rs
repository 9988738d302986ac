//! WAV: RIFF, RF64 and BW64 in, RIFF out.
//!
//! Sources: Microsoft/IBM "Multimedia Programming Interface and Data Specifications 1.0" (RIFF),
//! EBU Tech 3306 (RF64), ITU-R BS.2088 (BW64).

mod format;
mod read;
mod write;

pub use format::SampleFormat;
pub use read::WavReader;
pub use write::{HEADER_BYTES, encode_frames, float_header, header};
