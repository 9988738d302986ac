//! Session folders: `session.json`, `audio/<address>.wav` in 32-bit float, `midi/song.mid`; where there are snapshots,
//! `snapshots.json` with what each is and `snapshots/<place>.json` with its document. The same on disk and inside a ZIP file.

use crate::asset::{AssetHasher, pcm_bytes, pcm_samples};
use crate::wav::{WavReader, float_header};
use crate::{FileError, midi};
use lane_document::json::{self, FromJson, JsonError, ToJson};
use lane_document::session::{AssetBank, AssetRef, Audio, Session, Size};
use lane_units::{Name, Purpose, repairing};
use std::fs::{self, File};
use std::io::{BufWriter, Read, Seek, SeekFrom, Write};
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
    /// A file to be read from its start.
    fn open(&mut self, path: &str) -> Result<Box<dyn Read + '_>, FileError>;
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
    fn open(&mut self, path: &str) -> Result<Box<dyn Read + '_>, FileError> {
        let file = File::open(self.root.join(path)).map_err(|e| fault(path, e))?;
        Ok(Box::new(file))
    }
}

fn read_limited(from: &mut dyn FolderReader, path: &str, limit: u64) -> Result<Vec<u8>, FileError> {
    let mut bytes = Vec::new();
    from.open(path)?.take(limit + 1).read_to_end(&mut bytes).map_err(|e| fault(path, e))?;
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

/// Reads a ZIP file, stored or deflated, whose paths may lie under one folder, with a file system's litter beside them.
pub struct ZipSource<R> {
    archive: zip::ZipArchive<R>,
    root: String,
}

/// Files that a ZIP file of a session may hold.
const ENTRIES: usize = 20_000;

impl<R: Read + Seek> ZipSource<R> {
    /// # Errors
    /// [`FileError::Folder`] where it is no ZIP file or holds no `session.json`.
    pub fn new(file: R) -> Result<Self, FileError> {
        let refused = |_| fault("the ZIP file", "cannot be read; it is cut off, damaged, or no ZIP file");
        let archive = zip::ZipArchive::new(file).map_err(refused)?;
        if archive.len() > ENTRIES {
            return Err(fault("the ZIP file", format!("holds {} files; {ENTRIES} are allowed", archive.len())));
        }
        let root = archive
            .file_names()
            .filter_map(Result::ok)
            .filter(|n| !n.split('/').any(|part| part == "__MACOSX" || part.starts_with('.')))
            .filter_map(|n| n.strip_suffix("session.json").map(str::to_owned))
            .filter(|root| root.is_empty() || root.ends_with('/'))
            .min_by_key(String::len)
            .ok_or_else(|| fault("the ZIP file", "holds no session.json; choose a session folder that was exported"))?;
        Ok(ZipSource { archive, root })
    }
}

impl<R: Read + Seek> FolderReader for ZipSource<R> {
    fn open(&mut self, path: &str) -> Result<Box<dyn Read + '_>, FileError> {
        let entry = self.archive.by_name(&format!("{}{path}", self.root)).map_err(|e| match e {
            zip::result::ZipError::FileNotFound => fault(path, "is not in the ZIP file"),
            other => fault(path, other),
        })?;
        Ok(Box::new(entry))
    }
}

/// Writes a session with its audio.
///
/// * `audio` – writes the samples of a piece of audio, as little-endian 32-bit floats.
///
/// # Errors
/// [`FileError`] where audio is missing or writing fails.
pub fn write_folder(
    session: &Session,
    mut audio: impl FnMut(&AssetRef, &mut dyn Write) -> Result<(), FileError>,
    to: &mut dyn FolderWriter,
) -> Result<(), FileError> {
    let text = json::pretty(session).map_err(|e| fault("session.json", e))?;
    to.begin("session.json")?.write_all(&text)?;
    to.begin("midi/song.mid")?.write_all(&midi::write_song(session))?;
    session.assets.iter().try_for_each(|asset| write_audio(asset, &mut audio, to))
}

/// Writes one piece of audio; see [`write_folder`].
///
/// # Errors
/// [`FileError`] where it is missing or writing fails.
pub fn write_audio(
    asset: &AssetRef,
    mut audio: impl FnMut(&AssetRef, &mut dyn Write) -> Result<(), FileError>,
    to: &mut dyn FolderWriter,
) -> Result<(), FileError> {
    let file = to.begin(&audio_path(asset))?;
    file.write_all(&float_header(asset.channels, asset.sample_rate, u64::from(asset.frames)))?;
    audio(asset, file)
}

/// What a snapshot in a folder says of itself, beside its document.
#[derive(Debug, Clone, PartialEq, serde::Serialize, serde::Deserialize)]
pub struct SnapshotCard {
    pub name: Name,
    /// Whether somebody took it, rather than the program.
    pub by_hand: bool,
    /// Microseconds since 1970, UTC, as exact as they are stored, so that the order stays.
    pub taken_at_us: i64,
    /// What was measured of it.
    #[serde(default)]
    pub figures: serde_json::Value,
}

const SNAPSHOTS: &str = "snapshots.json";
const SNAPSHOTS_BYTES: u64 = 4 << 20;
/// Snapshots of a folder that are read.
const MOST_SNAPSHOTS: usize = 2000;

fn snapshot_path(place: usize) -> String {
    format!("snapshots/{place}.json")
}

/// Writes the document of a snapshot by its place in the list.
///
/// # Errors
/// [`FileError`] where writing fails.
pub fn write_snapshot(place: usize, document: &Session, to: &mut dyn FolderWriter) -> Result<(), FileError> {
    let path = snapshot_path(place);
    let json = document.to_json().map_err(|e| fault(&path, e))?;
    Ok(to.begin(&path)?.write_all(&json)?)
}

/// Writes the list of snapshots, behind their documents.
///
/// # Errors
/// [`FileError`] where writing fails.
pub fn write_snapshots(cards: &[SnapshotCard], to: &mut dyn FolderWriter) -> Result<(), FileError> {
    let json = serde_json::to_vec_pretty(cards).map_err(|e| fault(SNAPSHOTS, e))?;
    Ok(to.begin(SNAPSHOTS)?.write_all(&json)?)
}

/// The list of snapshots of a folder; of one without any, none.
///
/// # Errors
/// [`FileError::Folder`] where it cannot be understood, or is too long.
pub fn read_snapshots(from: &mut dyn FolderReader) -> Result<Vec<SnapshotCard>, FileError> {
    if from.open(SNAPSHOTS).is_err() {
        return Ok(Vec::new());
    }
    let json = read_limited(from, SNAPSHOTS, SNAPSHOTS_BYTES)?;
    let cards: Vec<SnapshotCard> = repairing(|| serde_json::from_slice(&json)).0.map_err(|e| fault(SNAPSHOTS, e))?;
    if cards.len() > MOST_SNAPSHOTS {
        return Err(fault(SNAPSHOTS, format!("names {} snapshots; {MOST_SNAPSHOTS} are read", cards.len())));
    }
    Ok(cards)
}

/// The document of a snapshot by its place in the list, checked like that of a session.
///
/// # Errors
/// [`FileError::Folder`] with what is wrong.
pub fn read_snapshot(from: &mut dyn FolderReader, place: usize) -> Result<Session, FileError> {
    let path = snapshot_path(place);
    let json = read_limited(from, &path, DOCUMENT_BYTES)?;
    document_of(&path, &json).map(|read| read.session)
}

/// A session that came as a folder, and what was put right in it, for people.
#[derive(Debug)]
pub struct FolderSession {
    pub session: Session,
    pub remarks: Vec<String>,
}

/// Reads and checks the document of a folder: by its rules, loops and how large it may be. Texts and numbers that
/// are out of bounds are put right and told.
///
/// # Errors
/// [`FileError::Folder`] with what is wrong.
pub fn read_session(from: &mut dyn FolderReader) -> Result<FolderSession, FileError> {
    read_document(&read_limited(from, "session.json", DOCUMENT_BYTES)?)
}

/// Reads and checks a document; see [`read_session`].
///
/// # Errors
/// [`FileError::Folder`] with what is wrong.
pub fn read_document(json: &[u8]) -> Result<FolderSession, FileError> {
    document_of("session.json", json)
}

/// Why a document cannot be read, in words of people: our own types speak them, the reader does not.
fn unread(error: &JsonError) -> String {
    let place = format!("line {}, column {}", error.line(), error.column());
    let text = error.to_string();
    let jargon =
        ["invalid type", "invalid value", "invalid length", "unknown variant", "expected", "number out of range"];
    match text.strip_prefix("missing field `").and_then(|rest| rest.split_once('`')) {
        _ if error.is_eof() => "it ends too early. Export it again".into(),
        _ if error.is_syntax() => format!("it is no JSON from {place} on. Export it again"),
        Some((field, _)) => format!("“{field}” is missing before {place}"),
        None if jargon.iter().any(|words| text.starts_with(words)) => {
            format!("what stands before {place} does not belong there")
        }
        None => text,
    }
}

fn document_of(path: &str, json: &[u8]) -> Result<FolderSession, FileError> {
    let wrong = |reason: &dyn std::fmt::Display| fault(path, reason);
    let (session, mut remarks) = repairing(|| Session::from_json(json));
    let mut session = session.map_err(|e| wrong(&unread(&e)))?;
    remarks.extend(session.settle());
    session.validate().map_err(|e| wrong(&e))?;
    Size::none().allows(&session).map_err(|e| wrong(&e))?;
    lane_document::routing::order(&session).map_err(|e| wrong(&e))?;
    Ok(FolderSession { session, remarks })
}

/// The samples of a piece of audio in a folder, checked against its address, in a temporary file that stands at
/// their beginning: little-endian 32-bit floats.
///
/// # Errors
/// [`FileError::Folder`] with the file and what is wrong with it.
pub fn read_pcm(from: &mut dyn FolderReader, asset: &AssetRef) -> Result<File, FileError> {
    let path = audio_path(asset);
    let mut spooled = tempfile::tempfile()?;
    // A header is small; a file that is larger than its samples and that is cut off here, and fails below.
    let limit = asset.bytes() + 4096;
    std::io::copy(&mut from.open(&path)?.take(limit), &mut spooled).map_err(|e| fault(&path, e))?;
    let mut wav = WavReader::new(spooled).map_err(|e| fault(&path, e))?;
    let other = || fault(&path, "is not the audio that the session names");
    if wav.channels != usize::from(asset.channels) || wav.sample_rate != asset.sample_rate {
        return Err(other());
    }
    let mut hasher = AssetHasher::default();
    let mut pcm = BufWriter::with_capacity(1 << 18, tempfile::tempfile()?);
    let mut frames = 0;
    loop {
        let samples = wav.read(BLOCK).map_err(|e| fault(&path, e))?;
        if samples.is_empty() {
            break;
        }
        if let Some(at) = samples.iter().position(|s| !s.is_finite()) {
            return Err(FileError::NotANumber { frame: frames + (at / wav.channels) as u64 });
        }
        frames += (samples.len() / wav.channels) as u64;
        let bytes = pcm_bytes(&samples);
        hasher.take(&bytes);
        pcm.write_all(&bytes)?;
    }
    if frames != u64::from(asset.frames) || hasher.finish(asset.channels, asset.sample_rate) != asset.id {
        return Err(other());
    }
    let mut pcm = pcm.into_inner().map_err(|e| FileError::Io(e.into_error()))?;
    pcm.seek(SeekFrom::Start(0))?;
    Ok(pcm)
}

/// Frames read at a time.
const BLOCK: usize = 65_536;

/// Reads a session with all its audio at hand.
///
/// # Errors
/// [`FileError::Folder`] with the file and what is wrong with it.
pub fn read_folder(from: &mut dyn FolderReader) -> Result<(FolderSession, AssetBank), FileError> {
    let read = read_session(from)?;
    let mut bank = AssetBank::new();
    for asset in &read.session.assets {
        let mut bytes = Vec::new();
        read_pcm(from, asset)?.read_to_end(&mut bytes)?;
        let audio = Audio::new(asset.channels, pcm_samples(&bytes)).map_err(|e| fault(&audio_path(asset), e))?;
        bank.insert(asset.id.clone(), Arc::new(audio));
    }
    Ok((read, bank))
}

/// What a template says of itself, beside its session.
#[derive(Debug, Clone, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
pub struct TemplateCard {
    pub name: Name,
    pub purpose: Purpose,
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
    match read_limited(from, CARD, CARD_BYTES) {
        Ok(json) => repairing(|| serde_json::from_slice(&json)).0.map_err(|e| fault(CARD, e)),
        Err(_) => {
            Ok(TemplateCard { name: Name::cleaned(&session.header.title, "Template"), purpose: Purpose::default() })
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case::cut(|text: &str| text[..text.len() / 2].to_owned(), "it ends too early")]
    #[case::no_json(|text: &str| text.replacen(':', ";", 1), "it is no JSON from line 1")]
    #[case::of_another_kind(|text: &str| text.replacen("48000", "\"fast\"", 1), "does not belong there")]
    #[case::too_large(|text: &str| text.replacen("48000", "1e99", 1), "does not belong there")]
    #[case::without_a_part(|text: &str| text.replacen("\"strips\"", "\"stripes\"", 1), "“strips” is missing")]
    fn what_is_wrong_with_a_document_is_said_in_words_of_people(
        #[case] bend: impl Fn(&str) -> String,
        #[case] says: &str,
    ) {
        let text = Session::new("Copper", 48_000).to_json_text().unwrap();
        let said = read_document(bend(&text).as_bytes()).unwrap_err().to_string();
        assert!(said.starts_with("session.json: ") && said.contains(says), "{said}");
        assert!(!["u32", "u64", "f64", "expected", "struct", "EOF"].iter().any(|word| said.contains(word)), "{said}");
    }
}
