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
fn a_flac_file_arrives_whole_whatever_stands_behind_it(#[case] behind: Vec<u8>) {
    let read = converted(&[FLAC, &behind].concat()).unwrap();
    assert_eq!((read.frames, read.remarks.len()), (FRAMES, 0), "{:?}", read.remarks);
}

#[test]
fn a_flac_file_whose_least_block_is_its_last_is_read() {
    let mut bytes = FLAC.to_vec();
    bytes[8..10].copy_from_slice(&8_u16.to_be_bytes());
    assert_eq!(converted(&bytes).unwrap().frames, FRAMES);
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
#[case::ogg(OGG, OGG.len() - 900)]
fn a_file_that_is_cut_off_gives_what_is_there_and_tells_or_is_refused(#[case] bytes: &[u8], #[case] at: usize) {
    match converted(&bytes[..at]) {
        Ok(read) => {
            assert!(read.frames < FRAMES);
            assert!(!read.remarks.is_empty() || bytes.starts_with(b"OggS"), "{:?}", read.remarks);
        }
        Err(error) => assert!(error.to_string().contains("damaged"), "{error}"),
    }
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
