//! How long a measuring run over eight bars of the large demo session takes. `cargo bench -p lane-bench --bench levels`.

use criterion::{Criterion, criterion_group, criterion_main};
use lane_bench::Frozen;
use lane_engine::LoopRange;
use lane_measure::levels::Measuring;

/// Frames of a bar of the session: 4 beats at 92 bpm.
const BAR: u64 = 125_217;

fn measure(c: &mut Criterion) {
    let demo = Frozen::Large.session(48_000);
    let range = LoopRange { from: 12 * BAR, to: 20 * BAR };
    let mut group = c.benchmark_group("measuring run");
    group.sample_size(10).bench_function("8 bars, 16 lanes", |b| {
        b.iter(|| {
            let mut run = Measuring::new(&demo.session, &demo.bank, range);
            while run.step(48_000) < 1.0 {}
            run.read()
        });
    });
    group.finish();
}

criterion_group!(benches, measure);
criterion_main!(benches);
