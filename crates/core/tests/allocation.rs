//! `process` must not allocate: every allocation of this test's thread is counted.

use lane_core::dsp::{Compressor, Settings};
use lane_core::edit::{Edit, NewHits, NewVoice, apply};
use lane_core::engine::{Engine, Metering};
use lane_core::session::{AssetBank, AssetRef, Audio, Family, Hit, Hold, Key, Layer, Session, VoiceSource};
use lane_core::units::AssetId;
use std::alloc::{GlobalAlloc, Layout, System};
use std::cell::Cell;
use std::sync::Arc;

struct Counting;

thread_local!(static COUNT: Cell<u64> = const { Cell::new(0) });

// SAFETY: every call goes on to the system's allocator unchanged.
unsafe impl GlobalAlloc for Counting {
    unsafe fn alloc(&self, layout: Layout) -> *mut u8 {
        COUNT.with(|c| c.set(c.get() + 1));
        unsafe { System.alloc(layout) }
    }
    unsafe fn dealloc(&self, at: *mut u8, layout: Layout) {
        unsafe { System.dealloc(at, layout) }
    }
}

#[global_allocator]
static ALLOCATOR: Counting = Counting;

fn allocations(work: impl FnOnce()) -> u64 {
    let before = COUNT.with(Cell::get);
    work();
    COUNT.with(Cell::get) - before
}

#[test]
fn process_and_meters_allocate_nothing() {
    let id = AssetId("ab".repeat(32));
    let asset = AssetRef { id: id.clone(), name: "a".into(), channels: 1, sample_rate: 48_000, frames: 9_000 };
    let bank = AssetBank::from([(id.clone(), Arc::new(Audio::new(1, vec![0.5; 9_000]).unwrap()))]);
    let mut session = Session::new("Busy", 48_000);
    let pattern = session.patterns[0].id;
    let hits = (0..32).map(|i| Hit::new(i * 240, 100, 90, (i % 7) as i8)).collect();
    let voice = NewVoice {
        name: "V".into(),
        family: Family::Low,
        source: VoiceSource::OneShot { layers: vec![Layer { tune_ct: 10.0, ..Layer::new(id) }], hold: Hold::Whole },
        output: None,
        hits: vec![NewHits { pattern, hits }],
    };
    apply(&mut session, &Edit::AddVoices { voices: vec![voice; 12], assets: vec![asset] }).unwrap();
    // A chain on every lane, keyed by the first, with a return and something to wait for.
    let lanes: Vec<_> = session.voices.iter().map(|v| v.channel).collect();
    let chain = |lookahead_ms| Settings::Compressor(Compressor { lookahead_ms, ..Compressor::default() });
    let mut edit = |edit| apply(&mut session, &edit).unwrap();
    edit(Edit::NewReturn { name: "R".into(), feeders: lanes.clone(), silent: false });
    edit(Edit::AddProcessor { strips: lanes[..2].to_vec(), settings: chain(5.0), key: None, at: None });
    for settings in Settings::all() {
        let key = settings.takes_key().then(|| Key::new(lanes[0]));
        edit(Edit::AddProcessor { strips: lanes[1..].to_vec(), settings, key, at: None });
    }
    let mut engine = Engine::new(&session, &bank, 128, Metering::On);
    engine.play();
    let mut out = [[0.0; 2]; 128];
    let mut meters = vec![0.0; engine.meter_values()];
    assert!(allocations(|| drop(vec![1_u8; 64])) > 0, "the counter counts");
    let count = allocations(|| {
        for _ in 0..2000 {
            engine.process(&mut out);
            engine.read_meters(&mut meters);
        }
    });
    assert_eq!(count, 0);
    assert!(meters.iter().any(|m| *m > 0.0));
}
