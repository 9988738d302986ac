//! What runs in the audio thread must not allocate: every allocation of this test's thread is counted.

#![expect(unsafe_code, reason = "an allocator is unsafe code; this one counts and hands on")]

use lane_document::edit::{
    AddProcessor, AddVoices, Edit, NewBus, NewHits, NewReturn, NewVoice, ProcessorChange, SetHeader, SetHits,
    SetProcessor, SetSend, SetStrips, StripChange, apply,
};
use lane_document::session::{
    AssetBank, AssetRef, Audio, Family, Hit, Hold, Key, Layer, Session, StripSend, Tempo, VoiceSource,
};
use lane_dsp::{Compressor, Settings};
use lane_engine::{Bypass, Compiler, Engine, Listened, LoopRange, Metering};
use lane_measure::sides::{Recording, Sides, Sound, Way};
use lane_units::AssetId;
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

/// Twelve lanes with a chain of every kind, keyed by the first, with a return and something to wait for.
fn busy() -> (Session, AssetBank) {
    let id = AssetId("ab".repeat(32));
    let asset = AssetRef { id: id.clone(), name: "a".into(), channels: 1, sample_rate: 48_000, frames: 9_000 };
    let bank = AssetBank::from([(id.clone(), Arc::new(Audio::new(1, vec![0.5; 9_000]).unwrap()))]);
    let mut session = Session::new("Busy", 48_000);
    let pattern = session.patterns[0].id;
    let hits = (0..32).map(|i| Hit::new(i * 240, 100, 90, (i % 7) as i8)).collect();
    let voice = NewVoice {
        trim_db: 0.0,
        name: "V".into(),
        family: Family::Low,
        source: VoiceSource::OneShot { layers: vec![Layer { tune_ct: 10.0, ..Layer::new(id) }], hold: Hold::Whole },
        output: None,
        hits: vec![NewHits { pattern, hits }],
    };
    apply(&mut session, &Edit::AddVoices(AddVoices { voices: vec![voice; 12], assets: vec![asset] })).unwrap();
    let lanes: Vec<_> = session.voices.iter().map(|v| v.channel).collect();
    let chain = |lookahead_ms| Settings::Compressor(Compressor { lookahead_ms, ..Compressor::default() });
    let mut edit = |edit| apply(&mut session, &edit).unwrap();
    edit(Edit::NewReturn(NewReturn { name: "R".into(), feeders: lanes.clone(), silent: false }));
    edit(Edit::AddProcessor(AddProcessor { strips: lanes[..2].to_vec(), settings: chain(5.0), key: None, at: None }));
    for settings in Settings::all() {
        let key = settings.takes_key().then(|| Key::new(lanes[0]));
        edit(Edit::AddProcessor(AddProcessor { strips: lanes[1..].to_vec(), settings, key, at: None }));
    }
    (session, bank)
}

#[test]
fn process_and_meters_allocate_nothing() {
    let (session, bank) = busy();
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

/// An edit of the session, worked out, and what the engine allocates while it follows it and plays on.
fn following(session: &mut Session, engine: &mut Engine, compiler: &mut Compiler, edit: &Edit) -> u64 {
    apply(session, edit).unwrap();
    let words = compiler.changes(session).to_vec();
    assert!(!words.is_empty(), "{edit:?} changes something");
    let mut out = [[0.0; 2]; 128];
    allocations(|| {
        engine.take(&words);
        while engine.is_busy() {
            engine.process(&mut out);
        }
        (0..40).for_each(|_| engine.process(&mut out));
    })
}

#[test]
fn changes_of_gains_values_hits_and_time_allocate_nothing() {
    let (mut session, bank) = busy();
    let mut engine = Engine::empty(48_000, 128, Metering::On);
    let mut compiler = Compiler::new();
    engine.take(compiler.changes(&session));
    engine.finish();
    for asset in &session.assets {
        engine.shelve(compiler.number(&asset.id), bank[&asset.id].clone());
    }
    engine.play();
    let mut out = [[0.0; 2]; 128];
    (0..200).for_each(|_| engine.process(&mut out));
    let lane = session.voices[3].channel;
    let (pattern, voice) = (session.patterns[0].id, session.voices[3].id);
    let mut header = session.header.clone();
    header.tempo_bpm = Tempo::new(133.0).unwrap();
    header.swing.percent = 61.0;
    let mut edits = vec![
        Edit::SetStrips(SetStrips { strips: vec![lane], change: StripChange::FaderDb(-7.0) }),
        Edit::SetStrips(SetStrips { strips: vec![lane], change: StripChange::TrimDb(-3.0) }),
        Edit::SetSend(SetSend {
            strips: vec![lane],
            send: StripSend::parallel(session.strips.iter().find(|s| s.name == "R").unwrap().id),
        }),
        Edit::SetStrips(SetStrips { strips: vec![lane], change: StripChange::Mute(true) }),
        Edit::SetStrips(SetStrips { strips: vec![lane], change: StripChange::Solo(true) }),
        Edit::SetHits(SetHits { pattern, voice, hits: (0..30).map(|i| Hit::new(i * 200, 90, 70, 3)).collect() }),
        Edit::SetHeader(SetHeader { header }),
    ];
    // Every value of every kind, half-way up its range.
    for processor in &session.strip(lane).unwrap().chain {
        let mut to = processor.settings.clone();
        for (param, value) in processor.settings.values() {
            to.set(param.name, value + 0.5 * (param.max - value));
        }
        if to.latency(48_000) == processor.settings.latency(48_000) && to != processor.settings {
            let change = ProcessorChange::Settings(to);
            edits.push(Edit::SetProcessor(SetProcessor { strip: lane, processor: processor.id, change }));
        }
        for change in [ProcessorChange::On(false), ProcessorChange::On(true), ProcessorChange::MixPercent(50.0)] {
            edits.push(Edit::SetProcessor(SetProcessor { strip: lane, processor: processor.id, change }));
        }
    }
    for edit in &edits {
        let count = following(&mut session, &mut engine, &mut compiler, edit);
        // A longer delay and another space need room.
        let room = matches!(edit, Edit::SetProcessor(SetProcessor { change: ProcessorChange::Settings(s), .. })
            if matches!(s, Settings::Delay(_) | Settings::Reverb(_) | Settings::StereoImage(_)));
        assert!(count == 0 || room, "{count} allocations: {edit:?}");
    }
    let structure = Edit::NewBus(NewBus { name: "B".into(), feeders: vec![lane] });
    assert!(following(&mut session, &mut engine, &mut compiler, &structure) > 0, "the counter counts here too");
}

#[test]
fn what_the_worklet_asks_allocates_nothing() {
    let (session, bank) = busy();
    let mut engine = Engine::new(&session, &bank, 128, Metering::On);
    let (lane, voice) = (session.voices[2].channel, session.voices[2].id);
    let processor = session.strip(lane).unwrap().chain[1].id;
    let bypass = Bypass { processors: vec![(processor, -3.0)], main_db: -1.0 };
    let mut out = [[0.0; 2]; 128];
    // What is passed by is kept from then on.
    engine.pass_by(&bypass);
    let count = allocations(|| {
        engine.play();
        engine.set_loop(Some(LoopRange { from: 0, to: 5000 }));
        for block in 0..300 {
            match block % 60 {
                10 => engine.seek(3000),
                20 => engine.stop(),
                25 => engine.audition(voice, 0.5, None, 3),
                30 => engine.play(),
                40 => engine.listen(Some((lane, processor, Listened::Key))),
                45 => engine.listen(Some((lane, processor, Listened::Taken))),
                50 => engine.listen(None),
                _ => {}
            }
            engine.process_heard(&mut out, &mut |_, _, _| ());
            assert!(engine.around(lane, processor)[1].1 < 10_000 && engine.take_fault().is_none());
        }
    });
    assert_eq!(count, 0);
}

#[test]
fn sides_that_run_beside_each_other_allocate_nothing() {
    let (session, bank) = busy();
    let [mut now, mut side] = [(); 2].map(|()| Engine::new(&session, &bank, 128, Metering::Off));
    now.play();
    side.play();
    let audio = bank.values().next().unwrap().clone();
    let way = Way { follows: false, start: 0, from: 0, to: 9_000 };
    let mut sides = Sides::new(48_000, 128);
    sides.put(1, Sound::Session(Box::new(side)));
    sides.put(2, Sound::Recording(Box::new(Recording::new(audio, way, 48_000))));
    let mut out = [[0.0; 2]; 128];
    let count = allocations(|| {
        for block in 0..2000 {
            match block % 100 {
                0 => sides.hear(block / 100 % 3, [-1.0, 0.0, -2.0]),
                50 => {
                    now.seek(4_000);
                    sides.seek(4_000);
                }
                _ => {}
            }
            let head = now.playhead();
            now.process(&mut out);
            sides.process(&mut now, head, &mut out);
        }
    });
    assert_eq!(count, 0);
}
