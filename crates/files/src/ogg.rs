//! The pages of an Ogg file: whether all of them are there. Source: RFC 3533.

use std::fs::File;
use std::io::{BufReader, Read, Seek, SeekFrom};

/// Bytes of a page's head in front of its table of segments.
const HEAD: usize = 27;
/// The flag of the last page of a stream.
const LAST: u8 = 4;
/// Pages that are looked at, at most: more than an hour of sound has.
const PAGES: usize = 1 << 20;

/// Whether the first bytes of a file say Ogg.
pub fn is_ogg(first: &[u8]) -> bool {
    first.starts_with(b"OggS")
}

/// What the pages of the first stream say.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Pages {
    /// Whether its last page is there, and whole.
    pub ended: bool,
    /// Whether a page is missing between two others, by their numbers. Only then a position that jumps says what was lost.
    pub holes: bool,
}

/// Looks at the pages of a file, as far as one follows the other.
///
/// # Errors
/// Where the file cannot be read.
pub fn pages(file: &mut File) -> std::io::Result<Pages> {
    let end = file.seek(SeekFrom::End(0))?;
    file.seek(SeekFrom::Start(0))?;
    let mut reader = BufReader::new(file);
    let mut found = Pages { ended: false, holes: false };
    let mut stream: Option<(u32, u32)> = None;
    let mut at = 0;
    for _ in 0..PAGES {
        let mut head = [0; HEAD];
        if end - at < HEAD as u64 {
            break;
        }
        reader.read_exact(&mut head)?;
        if !is_ogg(&head) {
            break;
        }
        let mut segments = vec![0; usize::from(head[26])];
        if reader.read_exact(&mut segments).is_err() {
            break;
        }
        let body: u64 = segments.iter().map(|bytes| u64::from(*bytes)).sum();
        at += (HEAD + segments.len()) as u64 + body;
        if at > end {
            break;
        }
        let word = |from: usize| u32::from_le_bytes([head[from], head[from + 1], head[from + 2], head[from + 3]]);
        let (serial, number) = (word(14), word(18));
        match stream {
            None => stream = Some((serial, number)),
            Some((of, last)) if of == serial => {
                found.holes |= number != last.wrapping_add(1);
                stream = Some((of, number));
            }
            // Another stream beside it, or behind it.
            Some(_) => {}
        }
        if stream.is_some_and(|(of, _)| of == serial) && head[5] & LAST != 0 {
            found.ended = true;
            break;
        }
        reader.seek_relative(body as i64)?;
    }
    Ok(found)
}
