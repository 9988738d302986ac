//! Large sessions on which changes are made while they play.

use crate::frozen::{address, sound};
use lane_document::edit::{AddProcessor, AddVoices, Edit, NewBus, NewHits, NewVoice, apply};
use lane_document::session::{AssetBank, AssetRef, Family, Hit, Hold, Layer, Pattern, Section, Session, VoiceSource};
use lane_dsp::{Band, Compressor, Equaliser, Saturation, Settings, Transient};
use lane_house::DemoSession;
use lane_units::{PatternId, SectionId, StripId, Text};
use std::sync::Arc;

fn text<const MIN: usize, const MAX: usize>(text: &str) -> Text<MIN, MAX> {
    Text::new(text).expect("the text is short")
}

/// One of four processors in turn.
fn processor(n: usize) -> Settings {
    match n % 4 {
        0 => {
            let bands = vec![Band { freq_hz: 300.0, gain_db: -3.0, ..Band::default() }];
            Settings::Equaliser(Equaliser { bands })
        }
        1 => Settings::Compressor(Compressor::default()),
        2 => Settings::Transient(Transient { attack_db: 3.0, ..Transient::default() }),
        _ => Settings::Saturation(Saturation::default()),
    }
}

/// Lanes of 16 hits a bar, a pattern of its own for every bar up to 32 and then again, on one bus for every eight lanes.
///
/// * `processors` – on all lanes together, given to them in turn.
pub fn live_session(lanes: usize, bars: u32, processors: usize) -> DemoSession {
    let mut session = Session::new("Live", 48_000);
    let first = session.patterns[0].id;
    let patterns: Vec<PatternId> =
        (0..bars.min(32)).map(|n| if n == 0 { first } else { PatternId(1000 + n) }).collect();
    session.patterns = patterns.iter().map(|id| Pattern { id: *id, name: "P".into(), bars: 1 }.into()).collect();
    session.sections = (0..bars)
        .map(|n| {
            let pattern = patterns[n as usize % patterns.len()];
            Section { id: SectionId(2000 + n), name: "S".into(), pattern, bars: 1 }.into()
        })
        .collect();
    session.next_id = 3000;
    let mut bank = AssetBank::new();
    let assets: Vec<AssetRef> = (0..lanes)
        .map(|n| {
            let audio = sound(n, 1, 9600);
            bank.insert(address(n), Arc::new(audio));
            AssetRef { id: address(n), name: text("Sound.wav"), channels: 1, sample_rate: 48_000, frames: 9600 }
        })
        .collect();
    let hits = |lane: usize| {
        let step = move |n: u32| Hit::new(n * 240, 200, 60 + ((lane as u32 + n) % 60) as u8, 0);
        patterns.iter().map(move |p| NewHits { pattern: *p, hits: (0..16).map(step).collect() }).collect()
    };
    let voices = assets
        .iter()
        .enumerate()
        .map(|(n, asset)| NewVoice {
            trim_db: 0.0,
            name: text(&format!("Lane {n}")),
            family: Family::Percussion,
            source: VoiceSource::OneShot { layers: vec![Layer::new(asset.id.clone())], hold: Hold::Whole },
            output: None,
            hits: hits(n),
        })
        .collect();
    let mut edit = |edit: Edit| apply(&mut session, &edit).map(|_| ()).expect("the edit is valid");
    edit(Edit::AddVoices(AddVoices { voices, assets }));
    let strips: Vec<StripId> = session.voices.iter().map(|v| v.channel).collect();
    let mut edit = |edit: Edit| apply(&mut session, &edit).map(|_| ()).expect("the edit is valid");
    for (n, feeders) in strips.chunks(8).enumerate() {
        edit(Edit::NewBus(NewBus { name: text(&format!("Bus {n}")), feeders: feeders.to_vec() }));
    }
    for n in 0..processors {
        let strips = vec![strips[n % lanes]];
        edit(Edit::AddProcessor(AddProcessor { strips, settings: processor(n / lanes), key: None, at: None }));
    }
    DemoSession { session, bank }
}
