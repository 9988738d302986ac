//! What each kind of processor costs, at settings that make it work, on sound and on the silence after it.
//! `cargo bench -p lane-bench --bench processors`.

use criterion::{Criterion, Throughput, criterion_group, criterion_main};
use lane_dsp::equaliser::Shape;
use lane_dsp::{
    Band, Enhancer, EnvelopeFilter, Equaliser, Moment, Settings, Silent, Slot, SlotPlan, Starts, StereoImage, Transient,
};
use lane_units::Frame;

/// One second.
const FRAMES: usize = 48_000;
/// Seconds of silence until every tail has ended.
const TAIL_S: usize = 30;

/// Every kind once, at work; an equaliser that moves beside one that does not.
fn at_work() -> Vec<(&'static str, Settings)> {
    let bell = |freq_hz, gain_db| Band { freq_hz, gain_db, ..Band::default() };
    let shelf = |shape, freq_hz, gain_db| Band { shape, ..bell(freq_hz, gain_db) };
    let mut all: Vec<(&str, Settings)> = Settings::all().into_iter().map(|s| (s.name(), s)).collect();
    for (_, settings) in &mut all {
        match settings {
            Settings::Equaliser(s) => {
                let ends = [shelf(Shape::LowShelf, 90.0, 2.0), shelf(Shape::HighShelf, 9000.0, -2.0)];
                s.bands = ends.into_iter().chain([bell(320.0, -3.0), bell(2800.0, 2.5)]).collect();
            }
            Settings::Transient(s) => {
                *s = Transient { attack_db: 6.0, sustain_db: -6.0, ..s.clone() };
            }
            Settings::Enhancer(s) => *s = Enhancer { low_percent: 40.0, high_percent: 40.0, ..s.clone() },
            Settings::EnvelopeFilter(s) => *s = EnvelopeFilter { amount_oct: 3.0, ..s.clone() },
            Settings::StereoImage(s) => *s = StereoImage { mono_below_hz: 120.0, width_percent: 130.0, ..s.clone() },
            _ => {}
        }
    }
    let moving = Band { range_db: -6.0, threshold_dbfs: -40.0, ..bell(320.0, 0.0) };
    all.push(("Equaliser, one moving band", Settings::Equaliser(Equaliser { bands: vec![moving] })));
    all
}

fn processors(c: &mut Criterion) {
    // Decaying hits of a low tone, loud enough for every default.
    let hit = |n: usize| (-((n % 6000) as f64) / 900.0).exp() * (n as f64 * 0.05).sin();
    let sound: Vec<Frame> = (0..FRAMES).map(|n| [hit(n), 0.8 * hit(n)]).collect();
    let silence = vec![[0.0; 2]; FRAMES];
    for (on, played) in [("sound", &sound), ("the silence after its tail", &silence)] {
        let mut group = c.benchmark_group(format!("one second of {on} in blocks of 128"));
        group.throughput(Throughput::Elements(FRAMES as u64)).sample_size(20);
        for (name, settings) in at_work() {
            let (mix_percent, tempo_bpm) = (100.0, 120.0);
            let (on, input_db, output_db, bar_quarters) = (true, 0.0, 0.0, 4.0);
            let plan = SlotPlan { on, input_db, output_db, mix_percent, tempo_bpm, bar_quarters, settings };
            group.bench_function(name, |b| {
                let mut slot = Slot::new(&plan.course(FRAMES as u32), 128);
                let mut block = [[0.0; 2]; 128];
                let mut play = |sound: &[Frame]| {
                    for (n, piece) in sound.chunks_exact(128).enumerate() {
                        block.copy_from_slice(piece);
                        let now = Moment { playing: true, position: 128 * n as u64, starts: Starts::Beat };
                        slot.process_at(&mut block, None, Silent::NO, &now);
                    }
                    block[0]
                };
                play(&sound);
                for _ in 0..TAIL_S {
                    play(&silence);
                }
                b.iter(|| play(played));
            });
        }
        group.finish();
    }
}

criterion_group!(benches, processors);
criterion_main!(benches);
