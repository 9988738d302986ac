use super::*;
use ebur128::{EbuR128, Mode};
use lane_analysis::LoudnessMeter;
use lane_document::edit::{NewBus, NewPath};

/// Sample peak, loudness by another meter, and crest of a sound.
fn figures(frames: &[Frame]) -> [f64; 3] {
    let peak = frames.as_flattened().iter().fold(0.0, |most: f64, x| most.max(x.abs()));
    let mean = frames.as_flattened().iter().map(|x| x * x).sum::<f64>() / (2 * frames.len()) as f64;
    let mut meter = EbuR128::new(2, RATE, Mode::I).unwrap();
    meter.add_frames_f64(frames.as_flattened()).unwrap();
    [20.0 * peak.log10(), meter.loudness_global().unwrap(), 20.0 * (peak / mean.sqrt()).log10()]
}

/// Kick and snare over a bass, with a path, and buses that do something to all of it.
fn stage(shape: &str) -> (Stage, StripId) {
    let mut stage = Stage::new();
    let kick = stage.hits("Kick", &burst(1, 24_000, 4000.0), &[0, 1920]);
    let snare = stage.hits("Snare", &burst(2, 20_000, 2500.0), &[960, 2880]);
    stage.recording("Bass", &noise(3, 3 * BAR as usize).iter().map(|x| 0.2 * x).collect::<Vec<_>>());
    stage.edit(Edit::NewBus(NewBus { name: "Drums".into(), feeders: vec![kick, snare] }));
    let (drums, mix, main) = (stage.named("Drums"), stage.s.mix_bus, stage.main());
    let slow =
        Compressor { threshold_dbfs: -24.0, ratio: 3.0, attack_ms: 20.0, release_ms: 200.0, ..Compressor::default() };
    match shape {
        "plain" => {}
        "glued" => {
            stage.add(mix, Settings::Compressor(slow), None);
            stage.add(main, Settings::Clipper(Clipper::default()), None);
        }
        "keyed" => {
            stage.add(mix, Settings::Compressor(slow.clone()), Some(Key::new(kick)));
            stage.add(
                mix,
                Settings::Compressor(slow),
                Some(Key { high_pass_hz: 300.0, level_db: 6.0, ..Key::new(drums) }),
            );
        }
        _ => {
            stage.add(mix, Settings::Compressor(slow), None);
            stage.add(main, Settings::Limiter(Limiter { ceiling_dbtp: -12.0, ..Limiter::default() }), None);
        }
    }
    let path = stage.path(&[kick, snare], vec![hard()], -8.0);
    (stage, path)
}

#[rstest]
fn what_raising_a_path_brings_is_what_renders_have(#[values("plain", "glued", "keyed", "limited")] shape: &str) {
    let (mut stage, path) = stage(shape);
    let blend = stage.run(Some(path), &[]).bench().unwrap().blend.unwrap();
    assert_eq!((blend.fader_db, blend.before_limiter), (-8.0, shape == "limited"));
    let with = figures(&stage.rendered(false));
    stage.set(path, StripChange::Mute(true));
    let without = figures(&stage.rendered(false));
    let said = |f: &MainFigures| [f.sample_peak_dbfs.unwrap(), f.lufs.unwrap(), f.crest_db.unwrap()];
    let (found_with, found_without) = (said(&blend.with), said(&blend.without));
    for n in 0..3 {
        let (expected, found) = (with[n] - without[n], found_with[n] - found_without[n]);
        assert!((expected - found).abs() < 0.05, "{n}: {found}, expected {expected}");
        assert!((with[n] - found_with[n]).abs() < 0.06, "{n}: {}, expected {}", found_with[n], with[n]);
    }
    let louder = found_with[1] - found_without[1];
    assert!(shape != "plain" || louder > 0.3, "{louder}");
}

/// True peak by our own meter on a render, which tests hold against another one.
#[test]
fn true_peaks_are_those_of_renders() {
    let (mut stage, path) = stage("glued");
    let blend = stage.run(Some(path), &[]).bench().unwrap().blend.unwrap();
    let of = |stage: &Stage| {
        let mut meter = LoudnessMeter::new(RATE);
        meter.take(&stage.rendered(false));
        20.0 * meter.read().true_peak.log10()
    };
    let with = of(&stage);
    stage.set(path, StripChange::Mute(true));
    let change = with - of(&stage);
    let found = blend.with.true_peak_dbtp.unwrap() - blend.without.true_peak_dbtp.unwrap();
    assert!((change - found).abs() < 0.05, "{found}, expected {change}");
}

#[rstest]
fn the_blend_found_is_the_highest_within_its_budget(
    #[values("plain", "glued", "limited")] shape: &str,
    #[values(0.3, 1.5)] budget: f64,
) {
    let (mut stage, path) = stage(shape);
    let found = stage.run(Some(path), &[]).within(budget).unwrap();
    let db = found.fader_db.unwrap();
    let peak = |stage: &Stage| figures(&stage.rendered(false))[0];
    stage.set(path, StripChange::Mute(true));
    let without = peak(&stage);
    stage.set(path, StripChange::Mute(false));
    stage.set(path, StripChange::FaderDb(db));
    let over = peak(&stage) - without;
    assert!(over <= budget + 0.05 && (over - found.peak_db).abs() < 0.05, "{over} at {db}, said {}", found.peak_db);
    stage.set(path, StripChange::FaderDb(db + 0.4));
    assert!(peak(&stage) - without > budget, "more would have done");
}

/// A path of a fader that is off changes nothing, and one with a solo elsewhere is measured as if there were none.
#[test]
fn a_path_that_is_off_brings_nothing_and_solos_do_not_count() {
    let (mut stage, path) = stage("glued");
    let before = stage.run(Some(path), &[]).bench().unwrap().blend.unwrap();
    let bass = stage.s.voices[2].channel;
    stage.set(bass, StripChange::Solo(true));
    assert_eq!(stage.run(Some(path), &[]).bench().unwrap().blend.unwrap(), before);
    stage.set(path, StripChange::FaderDb(lane_units::OFF_DB));
    let off = stage.run(Some(path), &[]).bench().unwrap().blend.unwrap();
    assert_eq!(off.with, off.without);
    assert!((off.without.lufs.unwrap() - before.without.lufs.unwrap()).abs() < 0.01);
}

/// Where processors behind the path go by the song's place, all of it is played instead: the figures are the same.
#[test]
fn what_goes_by_the_beat_is_played_whole() {
    let (mut stage, path) = stage("glued");
    let mix = stage.s.mix_bus;
    let mut shape = lane_dsp::BeatShape::default();
    shape.base.depth_db = 0.0;
    let before = stage.run(Some(path), &[]).bench().unwrap().blend.unwrap();
    stage.add(mix, Settings::BeatShape(shape), None);
    let whole = stage.run(Some(path), &[]).bench().unwrap().blend.unwrap();
    let near = |a: Option<f64>, b: Option<f64>| (a.unwrap() - b.unwrap()).abs() < 0.05;
    assert!(
        near(whole.with.lufs, before.with.lufs)
            && near(whole.without.sample_peak_dbfs, before.without.sample_peak_dbfs),
        "{whole:?} {before:?}"
    );
}

/// A new path changes nothing that is heard until it is raised.
#[test]
fn nothing_jumps_when_a_path_is_made() {
    let (mut stage, _) = stage("plain");
    let lanes: Vec<StripId> = stage.s.voices.iter().map(|v| v.channel).collect();
    let before = stage.rendered(true);
    let equaliser = Processor::new(ProcessorId(9), Settings::Equaliser(Equaliser { bands: vec![] }));
    stage.edit(Edit::NewPath(NewPath { name: "Press".into(), feeders: lanes.clone(), processors: vec![equaliser] }));
    assert_eq!(stage.rendered(true), before);
    let made = stage.named("Press 2");
    let strip = stage.s.strip(made).unwrap();
    assert_eq!((strip.fader_db, strip.chain.len(), strip.output), (lane_units::OFF_DB, 1, Some(stage.s.mix_bus)));
    assert!(lanes.iter().all(|id| stage.s.strip(*id).unwrap().send_to(made).is_some_and(|send| send.placed)));
    // What the mix bus feeds goes to main, so that it does not feed itself.
    let mix = stage.s.mix_bus;
    let whole = Processor::new(ProcessorId(9), hard());
    stage.edit(Edit::NewPath(NewPath { name: "Whole".into(), feeders: vec![mix], processors: vec![whole] }));
    assert_eq!(stage.s.strip(stage.named("Whole")).unwrap().output, Some(stage.main()));
}
