//! Sessions for benchmarks and for comparing bits. Nobody mixes them, and they stay as they are while the demo sessions
//! change.

mod frozen;
mod live;
mod palette;

pub use frozen::{Frozen, Moment};
pub use lane_house::DemoSession;
pub use live::live_session;
pub use palette::palette_session;

use lane_units::Frame;
use sha2::{Digest, Sha256};

/// The SHA-256 of samples as 64-bit floats, in hexadecimal. Both zeros count as one.
pub fn checksum(frames: &[Frame]) -> String {
    let mut sum = Sha256::new();
    for sample in frames.as_flattened() {
        sum.update((sample + 0.0).to_le_bytes());
    }
    sum.finalize().iter().map(|byte| format!("{byte:02x}")).collect()
}
