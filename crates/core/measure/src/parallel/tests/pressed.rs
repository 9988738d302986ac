use super::*;
use lane_document::edit::SetProcessor;
use proptest::prelude::*;

const PIECE: usize = 16;

/// What falls with a time constant after each hit, in dB.
fn falling(hits: &[u32], depth_db: f64, time: f64, frames: usize) -> Vec<f32> {
    let at = |n: usize| {
        let now = (n * PIECE) as f64;
        let last = hits.iter().map(|h| f64::from(*h)).filter(|h| *h <= now).fold(f64::NEG_INFINITY, f64::max);
        if last.is_finite() { (depth_db * libm::exp(-(now - last) / time)) as f32 } else { 0.0 }
    };
    (0..frames / PIECE).map(at).collect()
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 64, failure_persistence: None, rng_seed: proptest::test_runner::RngSeed::Fixed(41), ..ProptestConfig::default() })]
    /// Half of what falls with a time constant is gone after its logarithm of 2, however deep it is.
    #[test]
    fn back_is_where_the_formula_has_it(depth in 2.0..40.0f64, time in 200.0..12_000.0f64, lift in any::<bool>()) {
        let hits = [0, 24_000, 48_000, 72_000];
        let mut reduction = falling(&hits, depth, time, BAR as usize);
        if lift {
            reduction.iter_mut().for_each(|x| *x = -*x);
        }
        let found = back_frames(&reduction, PIECE, &hits);
        let expected = time * std::f64::consts::LN_2;
        prop_assert_eq!((found.hits, found.back), (4, 4));
        prop_assert!((found.median_frames.unwrap() - expected).abs() < 0.02 * expected + 2.0, "{:?} {}", found, expected);
    }
}

#[test]
fn a_hit_ends_where_a_stronger_one_comes() {
    // 10 dB that fall slowly, 12 dB before half of them is gone.
    let mut reduction = falling(&[0], 10.0, 40_000.0, 20_000);
    reduction.extend(falling(&[0], 12.0, 2000.0, 20_000));
    let found = back_frames(&reduction, PIECE, &[0, 20_000]);
    assert_eq!((found.hits, found.back), (2, 1), "{found:?}");
    assert!((found.median_frames.unwrap() - 2000.0 * std::f64::consts::LN_2).abs() < 20.0, "{found:?}");
    assert_eq!(back_frames(&[], PIECE, &[0]).median_frames, None);
    assert_eq!(back_frames(&[0.2; 100], PIECE, &[0, 400]).hits, 0);
}

fn pressed() -> (Stage, StripId) {
    let mut stage = Stage::new();
    let kick = stage.hits("Kick", &burst(1, 9000, 900.0), &[0, 960, 1920, 2880]);
    let settings = Settings::Compressor(Compressor {
        threshold_dbfs: -30.0,
        ratio: 20.0,
        attack_ms: 0.1,
        release_ms: 60.0,
        ..Compressor::default()
    });
    let path = stage.path(&[kick], vec![settings], -10.0);
    (stage, path)
}

#[rstest]
fn a_release_is_found_for_a_part_of_a_beat(#[values(0.15, 0.3, 0.5, 0.8)] beats: f64) {
    let (mut stage, path) = pressed();
    let solved = stage.run(Some(path), &[]).solve(PressGoal::Back { beats }).unwrap();
    assert_eq!(solved.short, None);
    let back = solved.back_beats.unwrap();
    assert!((back / beats - 1.0).abs() < 0.05, "{back} of a beat, asked {beats}");
    // Set so, it does so.
    let change = lane_document::edit::ProcessorChange::Settings(solved.settings);
    stage.edit(Edit::SetProcessor(SetProcessor { strip: path, processor: solved.processor, change }));
    let press = stage.run(Some(path), &[]).bench().unwrap().press.unwrap();
    assert!((press.back_beats.unwrap() - back).abs() < 1e-6, "{press:?}");
    assert_eq!(press.strokes.len(), 4);
}

#[rstest]
fn a_drive_is_found_for_a_reduction(#[values(3.0, 9.0, 20.0)] db: f64) {
    let (stage, path) = pressed();
    let solved = stage.run(Some(path), &[]).solve(PressGoal::Deepest { db }).unwrap();
    assert!((solved.deepest_db - db).abs() < 0.2 && solved.short.is_none(), "{solved:?}");
}

#[rstest]
fn a_threshold_is_found_for_a_budget(#[values(1.0, 2.0, 6.0)] db: f64) {
    let (mut stage, path) = pressed();
    let solved = stage.run(Some(path), &[]).solve(PressGoal::Within { db }).unwrap();
    assert!((solved.deepest_db - db).abs() < 0.2 && solved.short.is_none(), "{solved:?}");
    let change = lane_document::edit::ProcessorChange::Settings(solved.settings);
    stage.edit(Edit::SetProcessor(SetProcessor { strip: path, processor: solved.processor, change }));
    let press = stage.run(Some(path), &[]).bench().unwrap().press.unwrap();
    assert!((press.deepest_db - db).abs() < 0.2, "{press:?}");
}

/// Delays, releases and blends at the other rates.
#[rstest]
fn every_rate_is_as_good(#[values(44_100, 88_200, 96_000)] rate: u32) {
    let mut stage = Stage::at(rate);
    let kick = stage.hits("Kick", &burst(1, rate as usize / 5, f64::from(rate) / 50.0), &[0, 960, 1920, 2880]);
    let settings = Compressor { threshold_dbfs: -30.0, ratio: 20.0, attack_ms: 0.1, ..Compressor::default() };
    let path = stage.path(&[kick], vec![Settings::Compressor(settings)], -10.0);
    let image = StereoImage { delay_frames: 97.0, ..StereoImage::default() };
    stage.add(path, Settings::StereoImage(image), None);
    let run = stage.run(Some(path), &[]);
    let found = run.returns()[0].alignment;
    assert_eq!((found.whole_frames(), found.verdict), (97, Verdict::Off), "{found:?}");
    for beats in [0.2, 0.5] {
        let back = run.solve(PressGoal::Back { beats }).unwrap().back_beats.unwrap();
        assert!((back / beats - 1.0).abs() < 0.05, "{back} of a beat, asked {beats}");
    }
    stage.set(path, StripChange::OffsetFrames(-97));
    let mended = stage.run(Some(path), &[]);
    assert_eq!(mended.returns()[0].alignment.verdict, Verdict::InTime);
    let db = mended.within(0.5).unwrap().fader_db.unwrap();
    let peak = |stage: &Stage| stage.rendered(true).as_flattened().iter().fold(0.0, |m: f64, x| m.max(x.abs()));
    stage.set(path, StripChange::FaderDb(db));
    let with = peak(&stage);
    stage.set(path, StripChange::Mute(true));
    let over = 20.0 * (with / peak(&stage)).log10();
    assert!((0.3..=0.55).contains(&over), "{over} dB at {db}");
}

/// Hits of a recording are heard as well as planned ones are known; where both feed a path, one of both stands once.
#[rstest]
fn recordings_are_heard_to_hit(#[values(false, true)] with_hits: bool) {
    let (planned, planned_path) = pressed();
    let mut stage = Stage::new();
    let (sound, beat) = (burst(1, 9000, 900.0), 24_000);
    let mut samples = vec![0.0; 4 * beat];
    for n in 0..4 {
        samples[n * beat..][..sound.len()].copy_from_slice(&sound);
    }
    let mut feeders = vec![stage.recording("Kit", &samples)];
    if with_hits {
        feeders.push(stage.hits("Kick", &sound, &[0, 1920]));
    }
    let settings = planned.s.strip(planned_path).unwrap().chain[0].settings.clone();
    let path = stage.path(&feeders, vec![settings], -10.0);
    let press = stage.run(Some(path), &[]).bench().unwrap().press.unwrap();
    let known = planned.run(Some(planned_path), &[]).bench().unwrap().press.unwrap();
    assert_eq!((press.hits, press.strokes.len()), (known.hits, known.strokes.len()), "{press:?}");
    for (heard, planned) in press.strokes.iter().zip(&known.strokes) {
        assert!((heard - planned).abs() < 0.003, "{:?} for {:?}", press.strokes, known.strokes);
    }
    if !with_hits {
        assert!((press.back_beats.unwrap() / known.back_beats.unwrap() - 1.0).abs() < 0.02, "{press:?}");
    }
}

/// Of a bus and of main the compressor is heard, and there is nothing to blend.
#[test]
fn buses_are_heard_without_a_blend() {
    let (mut stage, _) = pressed();
    let mix = stage.s.mix_bus;
    stage.add(mix, hard(), None);
    let bench = stage.run(Some(mix), &[]).bench().unwrap();
    assert_eq!((bench.strip, bench.blend), (mix, None));
    assert!(bench.press.unwrap().deepest_db > 6.0);
    assert!(stage.run(Some(mix), &[]).within(0.5).is_none());
    let main = stage.main();
    assert!(stage.run(Some(main), &[]).bench().unwrap().press.is_none());
}

#[test]
fn what_cannot_be_reached_is_said() {
    let (stage, path) = pressed();
    let run = stage.run(Some(path), &[]);
    let deep = run.solve(PressGoal::Deepest { db: 40.0 }).unwrap();
    assert!(deep.short.is_some() || (deep.deepest_db - 40.0).abs() < 0.2, "{deep:?}");
    let soon = run.solve(PressGoal::Back { beats: 0.0001 }).unwrap();
    assert!(soon.short.is_some_and(|why| why.contains("no sooner")));
}
