//! Bent documents that are accepted, played: no panic, nothing that is no number, and no frame dearer than what is in it.

use crate::mutate::{Dice, bend};
use crate::{Found, caught};
use cpu_time::ThreadTime;
use lane_document::session::{AssetBank, Session};
use lane_engine::{Engine, Metering};
use lane_files::folder::read_document;
use lane_house::demo_sessions;
use serde_json::Value;
use std::time::Duration;

/// Bars that are played, and seconds, at most.
const BARS: f64 = 4.0;
const SECONDS: f64 = 1.0;
/// Time for a frame of each processor and lane, in ns, in a released build.
pub const RELEASED_NS: f64 = 200.0;
/// What an engine may take beside: it begins with filters whose memory it fills, and tables that are made once.
const BEGINS: Duration = Duration::from_millis(300);
/// What any block may take beside: as long as a block lasts that an output asks for at a time.
const BLOCK_TAKES: Duration = Duration::from_millis(10);
/// Blocks that an engine begins with.
const BEGINNING: usize = 4;
const BLOCK: usize = 128;

/// Plays the beginning of a document; says what is wrong with what came of it.
///
/// * `ns` – for a frame of each processor and lane.
fn play(session: &Session, bank: &AssetBank, ns: f64) -> Result<(), String> {
    let header = &session.header;
    let bar_s = header.place().bar_quarters * 60.0 / header.tempo_bpm.bpm();
    let frames = ((BARS * bar_s).min(SECONDS) * f64::from(header.sample_rate)) as usize;
    let mut engine = Engine::new(session, bank, BLOCK, Metering::On);
    engine.play();
    let mut block = [[0.0; 2]; BLOCK];
    let things = session.voices.len() + session.strips.iter().map(|s| 1 + s.chain.len()).sum::<usize>();
    let most = |beside: Duration, frames: usize| beside + Duration::from_nanos((ns * (things * frames) as f64) as u64);
    let began = ThreadTime::now();
    for n in 0..frames.div_ceil(BLOCK) {
        let block_began = ThreadTime::now();
        engine.process(&mut block);
        let took = block_began.elapsed();
        if n >= BEGINNING && took > most(BLOCK_TAKES, BLOCK) {
            return Err(format!("block {n} of {things} lanes and processors took {took:?}"));
        }
        if let Some(at) = block.as_flattened().iter().position(|x| !x.is_finite()) {
            return Err(format!("sample {at} of a block is {}", block.as_flattened()[at]));
        }
    }
    let took = began.elapsed();
    if took > most(BEGINS, frames) {
        Err(format!("{frames} frames of {things} lanes and processors took {took:?}"))
    } else {
        Ok(())
    }
}

/// Plays so many bent documents, those that are accepted.
///
/// * `ns` – for a frame of each processor and lane.
pub fn run(tries: u64, seed: u64, ns: f64) -> Found {
    let mut found = Found::default();
    let mut dice = Dice::new(seed);
    let demos = demo_sessions();
    let documents: Vec<Value> = demos.iter().filter_map(|d| serde_json::to_value(&d.session).ok()).collect();
    for n in 0..tries {
        let at = dice.below(demos.len());
        let mut document = documents[at].clone();
        for _ in 0..=dice.below(6) {
            bend(&mut document, &documents, &mut dice);
        }
        let json = document.to_string();
        let input = || format!("try {n} of seed {seed}, {} bytes", json.len());
        let Ok(read) = read_document(json.as_bytes()) else {
            found.note(Duration::ZERO, false, input);
            continue;
        };
        let began = ThreadTime::now();
        let once = || caught(|| play(&read.session, &demos[at].bank, ns));
        // What is dear is dear twice; what only the machine made so is not.
        let played = match once() {
            Ok(Err(_)) => once(),
            played => played,
        };
        found.note(began.elapsed(), true, input);
        if let Ok(Err(fault)) | Err(fault) = played {
            found.faults.push(format!("{fault}: {}", input()));
        }
    }
    found
}
