//! What other programs leave around the frames of a FLAC file, and a least block size that some decoders refuse.
//! Source: RFC 9639.

use crc::{CRC_8_SMBUS, CRC_16_UMTS, Crc};
use std::fs::File;
use std::io::{Read, Seek, SeekFrom, Write};

/// Whether the first bytes of a file say FLAC, perhaps behind a tag.
pub fn is_flac(first: &[u8]) -> bool {
    first.starts_with(b"fLaC")
}

/// Descriptions in front of the frames, at most.
const DESCRIPTIONS: usize = 4096;
/// Bytes in which the last frame is looked for, and how many beginnings of frames are tried in them.
const LAST_BYTES: u64 = 1 << 18;
const LAST_FRAMES: usize = 4;
/// Bytes that a frame has at least, behind its first.
const LEAST_FRAME: usize = 8;
/// Bytes of a tag of fixed size at a file's end (ID3v1).
const ID3V1: u64 = 128;
/// Bytes of the head or foot of a tag (APEv2).
const APE_FOOT: u64 = 32;

/// Where the frames of the first stream of a file end, in front of tags, zeros and whatever else was put behind them; and a
/// sentence where that was another stream.
pub fn end_of_frames(file: &mut File) -> std::io::Result<(u64, Option<String>)> {
    let mut end = file.seek(SeekFrom::End(0))?;
    let begin = first_frame(file, end)?;
    let another = next_stream(file, begin, end)?;
    end = another.unwrap_or(end);
    for _ in 0..4 {
        let before = end;
        if ends_with(file, end, ID3V1, b"TAG")? {
            end -= ID3V1;
        }
        if ends_with(file, end, APE_FOOT, b"APETAGEX")? {
            let mut foot = [0; APE_FOOT as usize];
            file.seek(SeekFrom::Start(end - APE_FOOT))?;
            file.read_exact(&mut foot)?;
            let size = u64::from(u32::from_le_bytes([foot[12], foot[13], foot[14], foot[15]]));
            let head = if foot[23] & 0x80 == 0 { 0 } else { APE_FOOT };
            end = end.saturating_sub(size + head);
        }
        if end == before {
            break;
        }
    }
    let end = without_zeros(file, end)?;
    let remark = another.map(|at| {
        format!("Another FLAC file is joined to it at byte {at} and was left out; cut the file there to bring both in.")
    });
    Ok((without_litter(file, begin, end)?, remark))
}

/// Where the first frame begins, behind the descriptions.
fn first_frame(file: &mut File, end: u64) -> std::io::Result<u64> {
    let mut at = 4;
    for _ in 0..DESCRIPTIONS {
        if at + 4 > end {
            break;
        }
        let mut head = [0; 4];
        file.seek(SeekFrom::Start(at))?;
        file.read_exact(&mut head)?;
        let [kind, size @ ..] = head;
        at += 4 + size.iter().fold(0, |sum, byte| sum << 8 | u64::from(*byte));
        if kind & 0x80 != 0 {
            break;
        }
    }
    Ok(at.min(end))
}

/// Where another stream begins behind the frames of the first: its name, and the head of its first description.
fn next_stream(file: &mut File, begin: u64, end: u64) -> std::io::Result<Option<u64>> {
    let begins = |w: &[u8]| &w[..4] == b"fLaC" && w[4] & 0x7F == 0 && w[5..8] == [0, 0, 34];
    let (mut window, mut at) = (Vec::new(), begin);
    file.seek(SeekFrom::Start(begin))?;
    while at < end {
        let had = window.len();
        file.take((1 << 20).min(end - at)).read_to_end(&mut window)?;
        if window.len() == had {
            break;
        }
        at += (window.len() - had) as u64;
        if let Some(found) = window.windows(8).position(begins) {
            return Ok(Some(at - window.len() as u64 + found as u64));
        }
        window.drain(..window.len().saturating_sub(7));
    }
    Ok(None)
}

/// The end of the last frame that is whole by its own sums, where something stands behind it; else the end as it is.
fn without_litter(file: &mut File, begin: u64, end: u64) -> std::io::Result<u64> {
    let look = end.saturating_sub(begin).min(LAST_BYTES);
    let mut bytes = vec![0; look as usize];
    file.seek(SeekFrom::Start(end - look))?;
    file.read_exact(&mut bytes)?;
    let heads = (0..bytes.len()).rev().filter(|at| frame_head(&bytes[*at..]).is_some());
    let sum = Crc::<u16>::new(&CRC_16_UMTS);
    for head in heads.take(LAST_FRAMES) {
        let mut digest = sum.digest();
        let mut whole = None;
        for (at, byte) in bytes.iter().enumerate().skip(head) {
            digest.update(&[*byte]);
            // A frame ends with its sum, behind which the sum of all is nothing.
            if at > head + LEAST_FRAME && digest.clone().finalize() == 0 {
                whole = Some(at + 1);
            }
        }
        if let Some(whole) = whole {
            return Ok(end - look + whole as u64);
        }
    }
    Ok(end)
}

/// Bytes of the head of a frame, where some bytes begin with one whose sum is right.
fn frame_head(bytes: &[u8]) -> Option<usize> {
    let [0xFF, 0xF8 | 0xF9, sizes, ..] = bytes else { return None };
    let number = match bytes.get(4)?.leading_ones() {
        0 => 1,
        n @ 2..=7 => n as usize,
        _ => return None,
    };
    let block = match sizes >> 4 {
        6 => 1,
        7 => 2,
        _ => 0,
    };
    let rate = match sizes & 15 {
        12 => 1,
        13 | 14 => 2,
        _ => 0,
    };
    let length = 4 + number + block + rate;
    let head = bytes.get(..length)?;
    (Crc::<u8>::new(&CRC_8_SMBUS).checksum(head) == *bytes.get(length)?).then_some(length + 1)
}

fn ends_with(file: &mut File, end: u64, tag: u64, name: &[u8]) -> std::io::Result<bool> {
    if end < tag {
        return Ok(false);
    }
    let mut first = vec![0; name.len()];
    file.seek(SeekFrom::Start(end - tag))?;
    file.read_exact(&mut first)?;
    Ok(first == name)
}

/// The end without a run of zeros; a frame may end with a few of its own.
fn without_zeros(file: &mut File, end: u64) -> std::io::Result<u64> {
    const MOST: u64 = 1 << 20;
    const FEW: u64 = 16;
    let look = end.min(MOST);
    let mut bytes = vec![0; look as usize];
    file.seek(SeekFrom::Start(end - look))?;
    file.read_exact(&mut bytes)?;
    let zeros = bytes.iter().rev().take_while(|b| **b == 0).count() as u64;
    Ok(if zeros > FEW { end - zeros } else { end })
}

/// Raises a least block size that is the short last block's, which some decoders refuse, to the most: in a stream of blocks
/// of one size only the last may be shorter, and does not count. The file must be ours to write.
pub fn mend_block_size(file: &mut File) -> std::io::Result<()> {
    let mut head = [0; 12];
    let end = file.seek(SeekFrom::End(0))?;
    file.seek(SeekFrom::Start(0))?;
    if file.read_exact(&mut head).is_err() || !is_flac(&head) || head[4] & 0x7F != 0 {
        return Ok(());
    }
    let (least, most) = (u16::from_be_bytes([head[8], head[9]]), u16::from_be_bytes([head[10], head[11]]));
    let begin = first_frame(file, end)?;
    let mut sync = [0; 2];
    file.seek(SeekFrom::Start(begin))?;
    let one_size = file.read_exact(&mut sync).is_ok() && sync == [0xFF, 0xF8];
    if least < most && most >= 16 && (one_size || least < 16) {
        file.seek(SeekFrom::Start(8))?;
        file.write_all(&most.to_be_bytes())?;
    }
    Ok(())
}

/// A file that ends earlier.
pub struct Shortened {
    file: File,
    end: u64,
    at: u64,
}

impl Shortened {
    pub fn new(mut file: File, end: u64) -> std::io::Result<Self> {
        file.seek(SeekFrom::Start(0))?;
        Ok(Shortened { file, end, at: 0 })
    }

    pub fn len(&self) -> u64 {
        self.end
    }

    pub fn is_empty(&self) -> bool {
        self.end == 0
    }
}

impl Read for Shortened {
    fn read(&mut self, into: &mut [u8]) -> std::io::Result<usize> {
        let most = (into.len() as u64).min(self.end.saturating_sub(self.at)) as usize;
        let got = self.file.read(&mut into[..most])?;
        self.at += got as u64;
        Ok(got)
    }
}

impl Seek for Shortened {
    fn seek(&mut self, to: SeekFrom) -> std::io::Result<u64> {
        let to = match to {
            SeekFrom::End(by) => SeekFrom::Start(self.end.saturating_add_signed(by)),
            other => other,
        };
        self.at = self.file.seek(to)?;
        Ok(self.at)
    }
}
