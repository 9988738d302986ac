//! Files that others' decoders read: whole, with litter around them, with holes, cut, joined.

use lane_files::{Converted, FileError, convert};
use rstest::rstest;
use std::fs::File;
use std::io::{Seek, SeekFrom, Write};

const FLAC: &[u8] = include_bytes!("data/tone.flac");
const OGG: &[u8] = include_bytes!("data/tone.ogg");
const MP3: &[u8] = include_bytes!("data/tone.mp3");
const OPUS: &[u8] = include_bytes!("data/tone.opus");
/// 0.2 s at 48 kHz.
const FRAMES: u32 = 9600;

fn converted(bytes: &[u8]) -> Result<Converted, FileError> {
    let mut file: File = tempfile::tempfile().unwrap();
    file.write_all(bytes).unwrap();
    file.seek(SeekFrom::Start(0)).unwrap();
    convert(file, 48_000)
}

fn id3v1() -> Vec<u8> {
    [&b"TAG"[..], &[b'x'; 125]].concat()
}

fn ape() -> Vec<u8> {
    let item = b"\x03\0\0\0\0\0\0\0Title\0abc";
    let mut foot = b"APETAGEX".to_vec();
    foot.extend(2000_u32.to_le_bytes());
    foot.extend((item.len() as u32 + 32).to_le_bytes());
    foot.extend(1_u32.to_le_bytes());
    foot.extend([0; 12]);
    [&item[..], &foot].concat()
}

#[rstest]
#[case::plain(vec![])]
#[case::tag(id3v1())]
#[case::long_tag(ape())]
#[case::both_tags([ape(), id3v1()].concat())]
#[case::zeros(vec![0; 5000])]
#[case::zeros_and_tag([vec![0; 300], id3v1()].concat())]
#[case::litter(litter(1024))]
#[case::litter_and_tag([litter(77), id3v1()].concat())]
fn a_flac_file_arrives_whole_whatever_stands_behind_it(#[case] behind: Vec<u8>) {
    let read = converted(&[FLAC, &behind].concat()).unwrap();
    assert_eq!((read.frames, read.remarks.len()), (FRAMES, 0), "{:?}", read.remarks);
}

/// Bytes that mean nothing.
fn litter(bytes: usize) -> Vec<u8> {
    (0..bytes as u32).map(|n| (n.wrapping_mul(2_654_435_761) >> 13) as u8 | 1).collect()
}

#[test]
fn the_last_block_is_the_same_whatever_stands_behind_it() {
    let whole = converted(FLAC).unwrap().audio().unwrap();
    let read = converted(&[FLAC, &litter(1024)].concat()).unwrap().audio().unwrap();
    assert_eq!(read.samples(), whole.samples());
}

#[rstest]
#[case(8)]
#[case(384)]
#[case(1151)]
fn a_flac_file_whose_least_block_is_its_last_is_read(#[case] least: u16) {
    let mut bytes = FLAC.to_vec();
    bytes[8..10].copy_from_slice(&least.to_be_bytes());
    let read = converted(&bytes).unwrap();
    assert_eq!((read.frames, read.remarks.len()), (FRAMES, 0), "{:?}", read.remarks);
}

#[test]
fn of_two_flac_files_that_are_joined_the_first_is_read_whole_and_the_other_is_told() {
    let whole = converted(FLAC).unwrap().audio().unwrap();
    let read = converted(&[FLAC, FLAC, &id3v1()].concat()).unwrap();
    let at = format!("joined to it at byte {}", FLAC.len());
    assert!(read.remarks.len() == 1 && read.remarks[0].contains(&at), "{:?}", read.remarks);
    assert_eq!(read.audio().unwrap().samples(), whole.samples());
}

/// Places of the frames of the file: a sync code and a block size of 1152.
fn flac_frames() -> Vec<usize> {
    (0..FLAC.len() - 4).filter(|at| FLAC[*at] == 0xFF && FLAC[at + 1] == 0xF8 && FLAC[at + 2] >> 4 == 3).collect()
}

#[test]
fn a_damaged_flac_frame_becomes_silence_of_its_length_and_is_told() {
    let frames = flac_frames();
    assert_eq!(frames.len(), 8, "the last one is shorter and has another size");
    let mut bytes = FLAC.to_vec();
    bytes[frames[3] + 20..frames[3] + 40].iter_mut().for_each(|b| *b ^= 0x5A);
    let whole = converted(FLAC).unwrap().audio().unwrap();
    let read = converted(&bytes).unwrap();
    assert_eq!(read.frames, FRAMES);
    assert!(read.remarks.iter().any(|r| r.contains("frames are damaged")), "{:?}", read.remarks);
    let audio = read.audio().unwrap();
    // What follows stands where it was.
    assert_eq!(audio.samples()[8000..9600], whole.samples()[8000..9600]);
    assert!(audio.samples()[3 * 1152..4 * 1152].iter().all(|s| *s == 0.0));
}

#[rstest]
#[case::flac(FLAC, FLAC.len() * 2 / 3)]
#[case::ogg(OGG, OGG.len() - 300)]
#[case::ogg_between_two_pages(OGG, LAST_PAGE)]
fn a_file_that_is_cut_off_gives_what_is_there_and_tells_or_is_refused(#[case] bytes: &[u8], #[case] at: usize) {
    match converted(&bytes[..at]) {
        Ok(read) => {
            assert!(read.frames < FRAMES);
            assert!(read.remarks.iter().any(|r| r.contains("cut off")), "{:?}", read.remarks);
        }
        Err(error) => assert!(error.to_string().contains("damaged"), "{error}"),
    }
}

/// Where the last page of the file begins; it holds the end of the sound.
const LAST_PAGE: usize = 3356;

/// A page with what stands in it changed, and its sum made right (RFC 3533, 6).
fn ogg_with(change: impl FnOnce(&mut [u8])) -> Vec<u8> {
    let mut bytes = OGG.to_vec();
    let page = &mut bytes[LAST_PAGE..];
    change(page);
    page[22..26].fill(0);
    let sum = page.iter().fold(0_u32, |sum, byte| {
        (0..8).fold(sum ^ u32::from(*byte) << 24, |sum, _| sum << 1 ^ if sum >> 31 == 1 { 0x04C1_1DB7 } else { 0 })
    });
    page[22..26].copy_from_slice(&sum.to_le_bytes());
    bytes
}

#[rstest]
#[case::behind_its_end(9600 + 480_000)]
#[case::before_its_beginning(-9000)]
#[case::nowhere(i64::MAX)]
fn odd_positions_in_ogg_are_no_missing_frames(#[case] position: i64) {
    let bent = ogg_with(|page| page[6..14].copy_from_slice(&position.to_le_bytes()));
    if let Ok(read) = converted(&bent) {
        assert!(!read.remarks.iter().any(|r| r.contains("damaged")), "{:?}", read.remarks);
        assert!(read.frames <= FRAMES + 2048, "{} frames", read.frames);
    }
}

/// Bytes of a frame of the file. The first stands for no sound; it says how long the file is.
const MP3_FRAME: usize = 192;

#[test]
fn an_mp3_that_is_joined_to_another_is_read_whole_and_the_other_is_told() {
    let alone = converted(MP3).unwrap();
    assert!(alone.remarks.is_empty(), "{:?}", alone.remarks);
    let read = converted(&[MP3, MP3].concat()).unwrap();
    let at = format!("joined to it at byte {}", MP3.len());
    assert!(read.remarks.len() == 1 && read.remarks[0].contains(&at), "{:?}", read.remarks);
    assert_eq!(read.audio().unwrap().samples(), alone.audio().unwrap().samples());
}

#[rstest]
#[case::of_channels(3, 0x3F, 0x00)]
#[case::of_rate(2, 0xF3, 0x08)]
fn an_mp3_that_changes_is_read_up_to_there_and_told(#[case] byte: usize, #[case] mask: u8, #[case] other: u8) {
    // Without the frame that says how long it is.
    let plain = MP3[MP3_FRAME..].repeat(3);
    let whole = converted(&plain).unwrap().frames;
    let mut bytes = plain;
    for at in (16 * MP3_FRAME..bytes.len()).step_by(MP3_FRAME) {
        bytes[at + byte] = bytes[at + byte] & mask | other;
    }
    let read = converted(&bytes).unwrap();
    assert!(read.frames < whole, "{} of {whole}", read.frames);
    assert!(!read.remarks.is_empty());
}

#[test]
fn ogg_and_mp3_are_read() {
    let ogg = converted(OGG).unwrap();
    assert_eq!((ogg.frames, ogg.remarks.len()), (FRAMES, 0), "{:?}", ogg.remarks);
    assert!(converted(MP3).unwrap().frames >= FRAMES);
}

#[test]
fn what_is_not_read_is_called_by_its_name() {
    assert!(converted(OPUS).err().unwrap().to_string().contains("holds Opus"));
}

#[rstest]
#[case::flac(FLAC)]
#[case::ogg(OGG)]
#[case::mp3(MP3)]
fn no_cut_and_no_flipped_byte_panics_or_speaks_in_jargon(#[case] good: &[u8]) {
    for at in (0..good.len()).step_by(7) {
        let mut bent = good.to_vec();
        bent[at] ^= 0xFF;
        for bytes in [&good[..at], &bent] {
            if let Err(error) = converted(bytes) {
                let text = error.to_string();
                assert!(!text.contains("flac:") && !text.contains("ogg:") && !text.contains("mpa:"), "{text}");
            }
        }
    }
}
