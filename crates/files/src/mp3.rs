//! MP3 files that are joined: the first says how many bytes it has, in the frame that stands for no sound.

use std::fs::File;
use std::io::{Read, Seek, SeekFrom};

/// Bytes in which that frame says it.
const FIRST: usize = 256;

/// Where another file begins behind the first one, where the first says how long it is.
///
/// # Errors
/// Where the file cannot be read.
pub fn another(file: &mut File) -> std::io::Result<Option<u64>> {
    let begin = behind_tag(file)?;
    let first = bytes_at(file, begin, FIRST)?;
    let Some(said) = said_bytes(&first) else { return Ok(None) };
    let at = begin + u64::from(said);
    let next = bytes_at(file, at, 4)?;
    let frame = next.len() == 4 && next[0] == 0xFF && first[1] == next[1];
    Ok((said as usize > FIRST && (frame || next.starts_with(b"ID3"))).then_some(at))
}

/// Where the first frame begins, behind a tag (ID3v2: ten bytes, and as many as they say, seven bits a byte).
fn behind_tag(file: &mut File) -> std::io::Result<u64> {
    let head = bytes_at(file, 0, 10)?;
    let tagged = head.len() == 10 && head.starts_with(b"ID3");
    let size = head.iter().skip(6).fold(0, |sum, byte| sum << 7 | u64::from(byte & 0x7F));
    Ok(if tagged { 10 + size + if head[5] & 0x10 != 0 { 10 } else { 0 } } else { 0 })
}

/// The bytes that the first frame says there are.
fn said_bytes(frame: &[u8]) -> Option<u32> {
    if frame.len() < 4 || frame[0] != 0xFF || frame[1] & 0xE0 != 0xE0 {
        return None;
    }
    let at = frame.windows(4).position(|w| w == b"Xing" || w == b"Info")?;
    let flags = *frame.get(at + 7)?;
    let said = frame.get(at + 8 + if flags & 1 != 0 { 4 } else { 0 }..)?.first_chunk::<4>()?;
    (flags & 2 != 0).then_some(u32::from_be_bytes(*said))
}

fn bytes_at(file: &mut File, at: u64, most: usize) -> std::io::Result<Vec<u8>> {
    let mut bytes = Vec::new();
    file.seek(SeekFrom::Start(at))?;
    file.take(most as u64).read_to_end(&mut bytes)?;
    Ok(bytes)
}
