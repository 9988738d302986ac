//! Files of a mixer: audio in, stems out, MIDI, session folders.
//!
//! What can be read whole is read; the rest is refused with the reason, and nothing that a file holds makes
//! this crate panic.
//!
//! | module | theme |
//! |---|---|
//! | [`asset`] | the content address of audio |
//! | [`wav`] | WAV, read with its common faults and written |
//! | [`aiff`] | AIFF and AIFF-C, read with their common faults |
//! | [`flac`] | what other programs leave around the frames of a FLAC file |
//! | [`decode`] | any audio file as blocks of samples |
//! | [`convert`] | a file at the session rate, block by block |
//! | [`midi`] | MIDI files as takes, and back |
//! | [`folder`] | session folders, on disk and in ZIP files |
//! | [`names`] | file names as names of voices |

pub mod aiff;
pub mod asset;
pub mod convert;
pub mod decode;
mod error;
pub mod flac;
pub mod folder;
pub mod midi;
mod mp3;
pub mod names;
mod ogg;
pub mod wav;

pub use asset::{AssetHasher, asset_id};
pub use convert::{Converted, convert, convert_while, resampled};
pub use error::FileError;
