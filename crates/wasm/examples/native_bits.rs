//! Plays the first seconds of a session folder natively and prints the SHA-256 of all 64-bit samples of main,
//! to be compared with what the browser's module gives.
//!
//! `cargo run -p lane-wasm --example native_bits -- FOLDER FRAMES`

use lane_core::engine::{Engine, Metering};
use lane_files::asset::hex;
use lane_files::folder::{DiskFolder, read_folder};
use sha2::{Digest, Sha256};
use std::path::Path;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let args: Vec<String> = std::env::args().collect();
    let [_, folder, frames] = args.as_slice() else { return Err("usage: native_bits FOLDER FRAMES".into()) };
    let (session, bank) = read_folder(&mut DiskFolder::new(Path::new(folder)))?;
    // Another block size than the worklet's, since that must not matter.
    let mut engine = Engine::new(&session, &bank, 1000, Metering::Off);
    engine.play();
    let mut out = vec![[0.0; 2]; frames.parse()?];
    engine.process(&mut out);
    let mut sum = Sha256::new();
    for sample in out.as_flattened() {
        sum.update(sample.to_le_bytes());
    }
    println!("{}", hex(&sum.finalize()));
    Ok(())
}
