//! What each kind of processor costs, at settings that make it work. `cargo bench -p lane-demo --bench processors`.

use criterion::{Criterion, Throughput, criterion_group, criterion_main};
use lane_core::dsp::{Settings, Slot, SlotPlan};
use lane_core::units::Frame;

/// One second.
const FRAMES: usize = 48_000;

fn processors(c: &mut Criterion) {
    // Decaying hits of a low tone, loud enough for every default.
    let hit = |n: usize| (-((n % 6000) as f64) / 900.0).exp() * (n as f64 * 0.05).sin();
    let sound: Vec<Frame> = (0..FRAMES).map(|n| [hit(n), 0.8 * hit(n)]).collect();
    let mut group = c.benchmark_group("one second in blocks of 128");
    group.throughput(Throughput::Elements(FRAMES as u64)).sample_size(20);
    for mut settings in Settings::all() {
        if let Settings::Transient(transient) = &mut settings {
            (transient.attack_db, transient.sustain_db) = (6.0, -6.0);
        }
        let plan = SlotPlan { on: true, input_db: 0.0, output_db: 0.0, mix_percent: 100.0, tempo_bpm: 120.0, settings };
        group.bench_function(plan.settings.name(), |b| {
            let mut slot = Slot::new(&plan, 128, 48_000);
            let mut block = [[0.0; 2]; 128];
            b.iter(|| {
                for piece in sound.chunks_exact(128) {
                    block.copy_from_slice(piece);
                    slot.process(&mut block, None);
                }
                block[0]
            });
        });
    }
    group.finish();
}

criterion_group!(benches, processors);
criterion_main!(benches);
