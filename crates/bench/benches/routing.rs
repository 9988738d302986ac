//! Trace, checks, latency and plan of a session of 100 lanes, 20 buses and 10 returns. `cargo bench -p lane-bench`.

use criterion::{Criterion, criterion_group, criterion_main};
use lane_document::checks::{TraceQuestion, checks, trace};
use lane_document::edit::{AddProcessor, AddVoices, Edit, NewBus, NewHits, NewReturn, NewVoice, SetSend, apply};
use lane_document::routing::Latencies;
use lane_document::session::{AssetRef, Family, Hit, Hold, Key, Layer, Session, StripSend, VoiceSource};
use lane_dsp::{Compressor, Settings};
use lane_engine::Plan;
use lane_units::{AssetId, StripId, Text};

fn text<const MIN: usize, const MAX: usize>(text: &str) -> Text<MIN, MAX> {
    Text::new(text).expect("the text is short")
}

fn large() -> Session {
    let mut s = Session::new("Large", 48_000);
    let pattern = s.patterns[0].id;
    let assets: Vec<AssetRef> = (0..100)
        .map(|n| AssetRef {
            id: AssetId(format!("{n:064x}")),
            name: text(&format!("{n}.wav")),
            channels: 1,
            sample_rate: 48_000,
            frames: 4800,
        })
        .collect();
    let voices = assets
        .iter()
        .enumerate()
        .map(|(n, asset)| NewVoice {
            trim_db: 0.0,
            name: text(&format!("Lane {n}")),
            family: Family::Percussion,
            source: VoiceSource::OneShot { layers: vec![Layer::new(asset.id.clone())], hold: Hold::Whole },
            output: None,
            hits: vec![NewHits { pattern, hits: (0..32).map(|h| Hit::new(h * 240, 200, 100, 0)).collect() }],
        })
        .collect();
    let mut edit = |edit: Edit| apply(&mut s, &edit).map(|_| s.clone()).expect("the edit is valid");
    let made = edit(Edit::AddVoices(AddVoices { voices, assets }));
    let lanes: Vec<StripId> = made.voices.iter().map(|v| v.channel).collect();
    for (n, feeders) in lanes.chunks(5).enumerate() {
        edit(Edit::NewBus(NewBus { name: text(&format!("Bus {n}")), feeders: feeders.to_vec() }));
    }
    for n in 0..10 {
        let feeders = lanes.iter().skip(n).step_by(5).copied().collect();
        let made = edit(Edit::NewReturn(NewReturn { name: text(&format!("Return {n}")), feeders, silent: false }));
        let to = made.strips.iter().find(|x| *x.name == *format!("Return {n}")).expect("just made").id;
        let settings = Settings::Compressor(Compressor { lookahead_ms: n as f64, ..Compressor::default() });
        edit(Edit::AddProcessor(AddProcessor { strips: vec![to], settings, key: None, at: None }));
        edit(Edit::SetSend(SetSend { strips: lanes[..10].to_vec(), send: StripSend::new(to) }));
    }
    let settings = Settings::Compressor(Compressor::default());
    edit(Edit::AddProcessor(AddProcessor {
        strips: lanes[50..].to_vec(),
        settings,
        key: Some(Key::new(lanes[0])),
        at: None,
    }))
}

fn routing(c: &mut Criterion) {
    let session = large();
    let mut group = c.benchmark_group("100 lanes, 20 buses, 10 returns");
    let asked = TraceQuestion {
        voice: Some(session.voices[0].id),
        layer: None,
        strip: session.voices[0].channel,
        from_bar: 0,
        bars: 4,
        missing: vec![],
        late: vec![],
        shut: vec![],
    };
    group.bench_function("trace", |b| b.iter(|| trace(&session, &asked)));
    group.bench_function("checks", |b| b.iter(|| checks(&session)));
    group.bench_function("latency", |b| b.iter(|| Latencies::new(&session).whole()));
    group.bench_function("plan", |b| b.iter(|| Plan::new(&session).strips.len()));
    group.finish();
}

criterion_group!(benches, routing);
criterion_main!(benches);
