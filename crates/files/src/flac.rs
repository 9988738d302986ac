//! What other programs leave around the frames of a FLAC file, and a least block size that some decoders refuse.
//! Source: RFC 9639.

use std::fs::File;
use std::io::{Read, Seek, SeekFrom, Write};

/// Whether the first bytes of a file say FLAC, perhaps behind a tag.
pub fn is_flac(first: &[u8]) -> bool {
    first.starts_with(b"fLaC")
}

/// Bytes of a tag of fixed size at a file's end (ID3v1).
const ID3V1: u64 = 128;
/// Bytes of the head or foot of a tag (APEv2).
const APE_FOOT: u64 = 32;

/// Where the frames of a file end, in front of tags and zeros that were put behind them.
pub fn end_of_frames(file: &mut File) -> std::io::Result<u64> {
    let mut end = file.seek(SeekFrom::End(0))?;
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
    without_zeros(file, end)
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

/// Raises a least block size that is the short last block's, which some decoders refuse, to the most. The file must
/// be ours to write.
pub fn mend_block_size(file: &mut File) -> std::io::Result<()> {
    let mut head = [0; 12];
    file.seek(SeekFrom::Start(0))?;
    if file.read_exact(&mut head).is_err() || !is_flac(&head) || head[4] & 0x7F != 0 {
        return Ok(());
    }
    let (least, most) = (u16::from_be_bytes([head[8], head[9]]), u16::from_be_bytes([head[10], head[11]]));
    if least < 16 && most >= 16 {
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
