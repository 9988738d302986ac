//! Session folders: `session.json`, `audio/<address>.wav` in 32-bit float, `midi/song.mid`. The same on disk
//! and inside a ZIP file.

use crate::asset::{AssetHasher, pcm_bytes, pcm_samples};
use crate::wav::{WavReader, float_header};
use crate::{FileError, midi};
use lane_core::session::{AssetBank, AssetRef, Audio, Session};
use std::fs::{self, File};
use std::io::{Cursor, Read, Seek, Write};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// Bytes of `session.json` at most.
const DOCUMENT_BYTES: u64 = 64 << 20;

fn fault(path: &str, reason: impl ToString) -> FileError {
    FileError::Folder { path: path.into(), reason: reason.to_string() }
}

fn audio_path(asset: &AssetRef) -> String {
    format!("audio/{}.wav", asset.id.0)
}

/// Takes the files of a folder one after the other.
pub trait FolderWriter {
    /// A new file; the following writes go into it.
    fn begin(&mut self, path: &str) -> Result<&mut dyn Write, FileError>;
}

/// Gives the files of a folder by path.
pub trait FolderReader {
    /// A file's bytes, at most `limit` of them.
    fn read(&mut self, path: &str, limit: u64) -> Result<Vec<u8>, FileError>;
}

/// Writes into a folder on disk.
pub struct DiskFolder {
    root: PathBuf,
    current: Option<File>,
}

impl DiskFolder {
    pub fn new(root: &Path) -> Self {
        DiskFolder { root: root.into(), current: None }
    }
}

impl FolderWriter for DiskFolder {
    fn begin(&mut self, path: &str) -> Result<&mut dyn Write, FileError> {
        let place = self.root.join(path);
        if let Some(parent) = place.parent() {
            fs::create_dir_all(parent)?;
        }
        Ok(self.current.insert(File::create(place)?))
    }
}

impl FolderReader for DiskFolder {
    fn read(&mut self, path: &str, limit: u64) -> Result<Vec<u8>, FileError> {
        let file = File::open(self.root.join(path)).map_err(|e| fault(path, e))?;
        read_limited(file, path, limit)
    }
}

fn read_limited(file: impl Read, path: &str, limit: u64) -> Result<Vec<u8>, FileError> {
    let mut bytes = Vec::new();
    file.take(limit + 1).read_to_end(&mut bytes).map_err(|e| fault(path, e))?;
    if bytes.len() as u64 > limit { Err(fault(path, "is larger than it may be")) } else { Ok(bytes) }
}

/// Writes a ZIP file of stored entries, without going back, so that it can be streamed.
pub struct ZipFolder<W: Write>(zip::ZipWriter<zip::write::StreamWriter<W>>);

impl<W: Write> ZipFolder<W> {
    pub fn new(out: W) -> Self {
        ZipFolder(zip::ZipWriter::new_stream(out))
    }

    /// Writes the table of contents.
    pub fn finish(self) -> Result<W, FileError> {
        self.0.finish().map(zip::write::StreamWriter::into_inner).map_err(|e| fault("zip", e))
    }
}

impl<W: Write> FolderWriter for ZipFolder<W> {
    fn begin(&mut self, path: &str) -> Result<&mut dyn Write, FileError> {
        let options = zip::write::SimpleFileOptions::default()
            .compression_method(zip::CompressionMethod::Stored)
            .large_file(true);
        self.0.start_file(path, options).map_err(|e| fault(path, e))?;
        Ok(&mut self.0)
    }
}

/// Reads a ZIP file whose paths may lie under one folder.
pub struct ZipSource<R> {
    archive: zip::ZipArchive<R>,
    root: String,
}

impl<R: Read + Seek> ZipSource<R> {
    /// # Errors
    /// [`FileError::Folder`] where it is no ZIP file or holds no `session.json`.
    pub fn new(file: R) -> Result<Self, FileError> {
        let archive = zip::ZipArchive::new(file).map_err(|e| fault("the ZIP file", e))?;
        let root = archive
            .file_names()
            .filter_map(Result::ok)
            .filter_map(|n| n.strip_suffix("session.json").map(str::to_owned))
            .filter(|root| root.is_empty() || root.ends_with('/'))
            .min_by_key(String::len)
            .ok_or_else(|| fault("the ZIP file", "holds no session.json; choose a session folder that was exported"))?;
        Ok(ZipSource { archive, root })
    }
}

impl<R: Read + Seek> FolderReader for ZipSource<R> {
    fn read(&mut self, path: &str, limit: u64) -> Result<Vec<u8>, FileError> {
        let entry = self.archive.by_name(&format!("{}{path}", self.root)).map_err(|e| fault(path, e))?;
        read_limited(entry, path, limit)
    }
}

/// Writes a session with its audio, asked for piece by piece.
///
/// # Errors
/// [`FileError`] where audio is missing or writing fails.
pub fn write_folder(
    session: &Session,
    mut audio: impl FnMut(&AssetRef) -> Result<Arc<Audio>, FileError>,
    to: &mut dyn FolderWriter,
) -> Result<(), FileError> {
    let json = serde_json::to_vec_pretty(session).map_err(|e| fault("session.json", e))?;
    to.begin("session.json")?.write_all(&json)?;
    to.begin("midi/song.mid")?.write_all(&midi::write_song(session))?;
    for asset in &session.assets {
        let audio = audio(asset)?;
        let file = to.begin(&audio_path(asset))?;
        file.write_all(&float_header(asset.channels, asset.sample_rate, audio.frames() as u64))?;
        file.write_all(&pcm_bytes(audio.samples()))?;
    }
    Ok(())
}

/// Reads a session with its audio and checks both: the document by its rules, audio by its address.
///
/// # Errors
/// [`FileError::Folder`] with the file and what is wrong with it.
pub fn read_folder(from: &mut dyn FolderReader) -> Result<(Session, AssetBank), FileError> {
    let session = read_document(&from.read("session.json", DOCUMENT_BYTES)?)?;
    let mut bank = AssetBank::new();
    for asset in &session.assets {
        bank.insert(asset.id.clone(), Arc::new(read_audio(from, asset)?));
    }
    Ok((session, bank))
}

/// What a template says of itself, beside its session.
#[derive(Debug, Clone, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
pub struct TemplateCard {
    pub name: String,
    pub purpose: String,
}

const CARD: &str = "template.json";
const CARD_BYTES: u64 = 64 << 10;

/// Writes what a template says of itself into a session folder.
///
/// # Errors
/// [`FileError`] where writing fails.
pub fn write_card(card: &TemplateCard, to: &mut dyn FolderWriter) -> Result<(), FileError> {
    let json = serde_json::to_vec_pretty(card).map_err(|e| fault(CARD, e))?;
    Ok(to.begin(CARD)?.write_all(&json)?)
}

/// What a template says of itself; a session folder that is no template has only its title.
///
/// # Errors
/// [`FileError::Folder`] where the card cannot be understood.
pub fn read_card(from: &mut dyn FolderReader, session: &Session) -> Result<TemplateCard, FileError> {
    match from.read(CARD, CARD_BYTES) {
        Ok(json) => serde_json::from_slice(&json).map_err(|e| fault(CARD, e)),
        Err(_) => Ok(TemplateCard { name: session.header.title.clone(), purpose: String::new() }),
    }
}

/// Reads and checks a document.
///
/// # Errors
/// [`FileError::Folder`] with what is wrong.
pub fn read_document(json: &[u8]) -> Result<Session, FileError> {
    let session: Session = serde_json::from_slice(json).map_err(|e| fault("session.json", e))?;
    session.validate().map_err(|e| fault("session.json", e))?;
    lane_core::routing::order(&session).map_err(|e| fault("session.json", e))?;
    Ok(session)
}

fn read_audio(from: &mut dyn FolderReader, asset: &AssetRef) -> Result<Audio, FileError> {
    let path = audio_path(asset);
    let limit = u64::from(asset.frames) * u64::from(asset.channels) * 4 + 4096;
    let mut wav = WavReader::new(Cursor::new(from.read(&path, limit)?)).map_err(|e| fault(&path, e))?;
    let samples = wav.read(asset.frames as usize).map_err(|e| fault(&path, e))?;
    let mut hasher = AssetHasher::default();
    hasher.take(&pcm_bytes(&samples));
    if wav.channels != usize::from(asset.channels) || hasher.finish(asset.channels, asset.sample_rate) != asset.id {
        return Err(fault(&path, "is not the audio that the session names"));
    }
    Audio::new(asset.channels, pcm_samples(&pcm_bytes(&samples))).map_err(|e| fault(&path, e))
}
