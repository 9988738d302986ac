//! How fast the engine plays and tracks out the large demo session, on one core. `cargo bench -p lane-bench`.

use criterion::{Criterion, Throughput, criterion_group, criterion_main};
use lane_bench::{DemoSession, Frozen, live_session};
use lane_engine::{Engine, Metering};
use lane_stems::{StemJob, render};

/// Ten seconds.
const FRAMES: usize = 480_000;

fn large() -> DemoSession {
    Frozen::Large.session(48_000)
}

/// A session without any processor.
fn bare(mut demo: DemoSession) -> DemoSession {
    demo.session.strips.iter_mut().for_each(|strip| strip.chain.clear());
    demo
}

fn play(c: &mut Criterion) {
    let mut group = c.benchmark_group("play 10 s");
    group.throughput(Throughput::Elements(FRAMES as u64)).sample_size(10);
    let sessions = [
        ("large", large()),
        ("large without processors", bare(large())),
        ("heavy", Frozen::Heavy.session(48_000)),
        ("20 lanes, 62 processors", live_session(20, 32, 62)),
    ];
    for (name, DemoSession { session, bank }) in sessions {
        for metering in [Metering::On, Metering::Off] {
            group.bench_function(format!("{name}, metering {metering:?}"), |b| {
                let mut block = [[0.0; 2]; 128];
                b.iter(|| {
                    let mut engine = Engine::new(&session, &bank, 128, metering);
                    engine.seek(4 * 4 * 31_304);
                    engine.play();
                    for _ in 0..FRAMES / block.len() {
                        engine.process(&mut block);
                    }
                    block[0]
                });
            });
        }
    }
    group.finish();
}

fn track_out(c: &mut Criterion) {
    let DemoSession { session, bank } = large();
    let job = StemJob::new(&session, 1).expect("the demo has stems");
    let mut group = c.benchmark_group("track out the song, 15 stems, measured");
    group.throughput(Throughput::Elements(job.frames())).sample_size(10);
    group.bench_function("nowhere", |b| b.iter(|| render(&session, &bank, &job, &mut ()).is_ok()));
    group.finish();
}

criterion_group!(benches, play, track_out);
criterion_main!(benches);
