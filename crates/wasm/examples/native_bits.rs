//! Writes sessions as folders, plays the first seconds of each natively and prints the SHA-256 of all 64-bit samples of
//! main, to be compared with what the browser's module gives: the frozen sessions, and every kind of processor at every
//! sample rate. With `bench` instead of seconds it only writes the sessions of the benchmarks.
//!
//! `cargo run -p lane-wasm --example native_bits -- FOLDER SECONDS`

use lane_bench::{DemoSession, Frozen, checksum, live_session, palette_session};
use lane_document::session::AssetRef;
use lane_engine::{Engine, Metering};
use lane_files::asset::write_pcm;
use lane_files::folder::{DiskFolder, write_folder};
use lane_units::SAMPLE_RATES;
use std::io::Write;
use std::path::Path;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let args: Vec<String> = std::env::args().collect();
    let [_, folder, seconds] = args.as_slice() else { return Err("usage: native_bits FOLDER SECONDS".into()) };
    let write = |name: &str, DemoSession { session, bank }: &DemoSession| {
        let audio = |asset: &AssetRef, to: &mut dyn Write| Ok(write_pcm(&bank[&asset.id], to)?);
        write_folder(session, audio, &mut DiskFolder::new(&Path::new(folder).join(name)))
    };
    if seconds == "bench" {
        write("heavy", &Frozen::Heavy.session(48_000))?;
        for (lanes, bars, processors) in [(24, 32, 48), (64, 64, 256), (64, 256, 256), (300, 32, 0), (20, 32, 62)] {
            write(&format!("{lanes}-{bars}"), &live_session(lanes, bars, processors))?;
        }
        return Ok(());
    }
    let seconds: usize = seconds.parse()?;
    let sessions = Frozen::ALL.into_iter().map(|f| f.session(48_000)).chain(SAMPLE_RATES.map(palette_session));
    for (at, demo) in sessions.enumerate() {
        write(&at.to_string(), &demo)?;
        // Another block size than the worklet's, since that must not matter.
        let mut engine = Engine::new(&demo.session, &demo.bank, 1000, Metering::Off);
        engine.play();
        let mut out = vec![[0.0; 2]; seconds * demo.session.header.sample_rate as usize];
        engine.process(&mut out);
        println!("{at} {}", checksum(&out));
    }
    Ok(())
}
