//! Writing WAV when the length is known before.

use lane_document::session::Depth;
use lane_units::Frame;

/// Bytes of a header.
pub const HEADER_BYTES: usize = 58;

/// The header of a stereo stem. `frames` must keep the file under 4 GiB, which a stem job checks.
pub fn header(depth: Depth, sample_rate: u32, frames: u64) -> [u8; HEADER_BYTES] {
    let tag = match depth {
        Depth::Int24 => 1,
        Depth::Float32 => 3,
    };
    build(tag, 2, depth.bytes() as u16, sample_rate, frames)
}

/// The header of 32-bit float audio with 1 or 2 channels.
pub fn float_header(channels: u16, sample_rate: u32, frames: u64) -> [u8; HEADER_BYTES] {
    build(3, channels, 4, sample_rate, frames)
}

/// `fmt ` with an empty extension and `fact`, as formats other than integers want it, then `data`.
fn build(tag: u16, channels: u16, sample_bytes: u16, sample_rate: u32, frames: u64) -> [u8; HEADER_BYTES] {
    let block = channels * sample_bytes;
    let data = (frames * u64::from(block)) as u32;
    let mut out = Vec::with_capacity(HEADER_BYTES);
    out.extend(b"RIFF");
    out.extend((data + data % 2 + HEADER_BYTES as u32 - 8).to_le_bytes());
    out.extend(b"WAVEfmt ");
    out.extend(18_u32.to_le_bytes());
    out.extend(tag.to_le_bytes());
    out.extend(channels.to_le_bytes());
    out.extend(sample_rate.to_le_bytes());
    out.extend((sample_rate * u32::from(block)).to_le_bytes());
    out.extend(block.to_le_bytes());
    out.extend((sample_bytes * 8).to_le_bytes());
    out.extend(0_u16.to_le_bytes());
    out.extend(b"fact");
    out.extend(4_u32.to_le_bytes());
    out.extend((frames as u32).to_le_bytes());
    out.extend(b"data");
    out.extend(data.to_le_bytes());
    out.try_into().expect("the parts add up to the header's size")
}

/// Appends frames as they stand in the file.
pub fn encode_frames(depth: Depth, frames: &[Frame], out: &mut Vec<u8>) {
    for sample in frames.as_flattened() {
        match depth {
            Depth::Int24 => out.extend(&Depth::to_int24(*sample).to_le_bytes()[..3]),
            Depth::Float32 => out.extend((*sample as f32).to_le_bytes()),
        }
    }
}
