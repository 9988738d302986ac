//! Audio, MIDI, session folders and templates with bent bytes: read or refused, never a panic, never for long.

use crate::mutate::{Dice, bend, bend_bytes};
use crate::{Found, caught};
use cpu_time::ThreadTime;
use lane_document::session::{AssetRef, Audio};
use lane_files::asset::write_pcm;
use lane_files::folder::{TemplateCard, ZipFolder, ZipSource, read_card, read_folder, write_card, write_folder};
use lane_files::{FileError, convert, midi};
use lane_house::house_templates;
use std::fs::File;
use std::io::{Cursor, Seek, SeekFrom, Write};

const FLAC: &[u8] = include_bytes!("../../files/tests/data/tone.flac");
const OGG: &[u8] = include_bytes!("../../files/tests/data/tone.ogg");
const MP3: &[u8] = include_bytes!("../../files/tests/data/tone.mp3");
const OPUS: &[u8] = include_bytes!("../../files/tests/data/tone.opus");

/// A kind of file.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    Audio,
    Midi,
    /// A session folder or a template, zipped.
    Folder,
    /// The document of a folder.
    Document,
}

fn wav(tag: u16, bits: u16, channels: u16, bext: bool) -> Vec<u8> {
    let block = channels * bits / 8;
    let data: Vec<u8> = (0..600 * u32::from(block)).map(|n| (n * 7) as u8).collect();
    let mut body = b"WAVEfmt \x10\0\0\0".to_vec();
    body.extend(tag.to_le_bytes());
    body.extend(channels.to_le_bytes());
    body.extend(48_000_u32.to_le_bytes());
    body.extend((48_000 * u32::from(block)).to_le_bytes());
    body.extend(block.to_le_bytes());
    body.extend(bits.to_le_bytes());
    if bext {
        body.extend(b"bext");
        body.extend(602_u32.to_le_bytes());
        body.extend([1; 602]);
    }
    body.extend(b"data");
    body.extend((data.len() as u32).to_le_bytes());
    body.extend(data);
    [&b"RIFF"[..], &(body.len() as u32).to_le_bytes(), &body].concat()
}

fn aiff() -> Vec<u8> {
    let mut body = b"AIFFCOMM\0\0\0\x12\0\x02\0\0\0\x64\0\x10\x40\x0E\xBB\x80\0\0\0\0\0\0SSND".to_vec();
    body.extend(408_u32.to_be_bytes());
    body.extend([0; 8]);
    body.extend([0x11; 400]);
    [&b"FORM"[..], &(body.len() as u32).to_be_bytes(), &body].concat()
}

fn song() -> Vec<u8> {
    let track = [
        &[0, 0xFF, 0x51, 3, 7, 0xA1, 0x20, 0, 0xFF, 0x58, 4, 6, 3, 24, 8, 0, 0xFF, 3, 3, b'K', b'i', b't'][..],
        &[0, 0x99, 36, 100, 48, 36, 0, 0x81, 0, 38, 90, 48, 38, 0, 0, 0xFF, 0x2F, 0],
    ]
    .concat();
    let head = b"MThd\0\0\0\x06\0\x01\0\x02\0\x60";
    let chunk = [&b"MTrk"[..], &(track.len() as u32).to_be_bytes(), &track].concat();
    [&head[..], &chunk, &chunk].concat()
}

/// A session folder of one short sound, as a template.
fn folder() -> Vec<u8> {
    let mut session = house_templates().swap_remove(0).session;
    let audio = Audio::new(1, vec![0.25; 64]).unwrap_or_else(|_| unreachable!("one channel of numbers is audio"));
    let id = lane_files::asset_id(&audio, 48_000);
    session.assets = vec![AssetRef { id, name: "a.wav".into(), channels: 1, sample_rate: 48_000, frames: 64 }.into()];
    let mut zip = ZipFolder::new(Vec::new());
    let card = TemplateCard { name: "Kit".into(), purpose: "For tests".into() };
    let written = write_card(&card, &mut zip)
        .and_then(|()| write_folder(&session, |_, to| Ok(write_pcm(&audio, to)?), &mut zip))
        .and_then(|()| zip.finish());
    written.unwrap_or_default()
}

fn spooled(bytes: &[u8]) -> std::io::Result<File> {
    let mut file = tempfile::tempfile()?;
    file.write_all(bytes)?;
    file.seek(SeekFrom::Start(0))?;
    Ok(file)
}

fn read(kind: Kind, bytes: &[u8]) -> Result<(), FileError> {
    match kind {
        Kind::Audio => convert(spooled(bytes)?, 44_100).map(|_| ()),
        Kind::Midi => midi::read_take("a.mid", bytes).map(|_| ()),
        Kind::Folder => {
            let mut zip = ZipSource::new(Cursor::new(bytes))?;
            let (read, _) = read_folder(&mut zip)?;
            read_card(&mut zip, &read.session).map(|_| ())
        }
        Kind::Document => lane_files::folder::read_document(bytes).map(|_| ()),
    }
}

/// Makes the sums of the pages of an Ogg file right (RFC 3533, 6), so that what is bent in them is looked at.
fn right_sums(bytes: &mut [u8]) {
    let begins: Vec<usize> = bytes.windows(4).enumerate().filter(|(_, w)| *w == b"OggS").map(|(at, _)| at).collect();
    for (n, at) in begins.iter().enumerate() {
        let end = begins.get(n + 1).copied().unwrap_or(bytes.len());
        let page = &mut bytes[*at..end];
        if page.len() < 27 {
            continue;
        }
        page[22..26].fill(0);
        let sum = page.iter().fold(0_u32, |sum, byte| {
            (0..8).fold(sum ^ u32::from(*byte) << 24, |sum, _| sum << 1 ^ if sum >> 31 == 1 { 0x04C1_1DB7 } else { 0 })
        });
        page[22..26].copy_from_slice(&sum.to_le_bytes());
    }
}

/// Good files of every kind.
pub fn good() -> Vec<(Kind, Vec<u8>)> {
    let document = serde_json::to_vec(&house_templates().swap_remove(1).session).unwrap_or_default();
    vec![
        (Kind::Audio, wav(1, 16, 1, false)),
        (Kind::Audio, wav(1, 24, 2, true)),
        (Kind::Audio, wav(3, 32, 2, false)),
        (Kind::Audio, wav(6, 8, 1, false)),
        (Kind::Audio, aiff()),
        (Kind::Audio, FLAC.to_vec()),
        (Kind::Audio, OGG.to_vec()),
        (Kind::Audio, [OGG, OGG].concat()),
        (Kind::Audio, [FLAC, FLAC].concat()),
        (Kind::Audio, [MP3, MP3].concat()),
        (Kind::Audio, MP3.to_vec()),
        (Kind::Audio, OPUS.to_vec()),
        (Kind::Midi, song()),
        (Kind::Folder, folder()),
        (Kind::Document, document),
    ]
}

/// Tries so many bent files, kind after kind.
pub fn run(tries: u64, seed: u64) -> Found {
    let mut found = Found::default();
    let mut dice = Dice::new(seed);
    let good = good();
    let documents: Vec<serde_json::Value> =
        house_templates().iter().filter_map(|t| serde_json::to_value(&t.session).ok()).collect();
    for n in 0..tries {
        let (kind, bytes) = &good[(n % good.len() as u64) as usize];
        let mut bytes = bytes.clone();
        if *kind == Kind::Document && dice.below(4) > 0 {
            let mut document = dice.pick(&documents).clone();
            for _ in 0..=dice.below(4) {
                bend(&mut document, &documents, &mut dice);
            }
            bytes = document.to_string().into_bytes();
        } else {
            bend_bytes(&mut bytes, &mut dice);
            if bytes.starts_with(b"OggS") && dice.below(4) > 0 {
                right_sums(&mut bytes);
            }
        }
        let began = ThreadTime::now();
        let tried = caught(|| read(*kind, &bytes));
        let took = began.elapsed();
        let input = || format!("{kind:?}, try {n} of seed {seed}, {} bytes", bytes.len());
        match tried {
            Ok(result) => found.note(took, result.is_ok(), input),
            Err(fault) => {
                found.note(took, false, input);
                found.faults.push(format!("{fault}: {}", input()));
            }
        }
    }
    found
}
