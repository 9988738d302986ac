//! A key and its target as they meet: what is said of them against what is rendered.

use super::*;
use lane_document::edit::{SetProcessor, SetStrips, SetTriggers};
use lane_engine::{Engine, Metering};
use lane_units::{Frame, gain_to_db};

/// A ducker that takes nothing away.
fn idle() -> Settings {
    Settings::Compressor(Compressor { ratio: 1.0, ..Compressor::default() })
}

/// What main plays in the second round of the scene's two seconds.
fn rendered(scene: &Scene) -> Vec<Frame> {
    let length = 2 * u64::from(scene.rate);
    let mut engine = Engine::new(&scene.session, &scene.bank, 1000, Metering::Off);
    engine.set_loop(Some(LoopRange { from: 0, to: length }));
    engine.play();
    let mut out = vec![[0.0; 2]; 2 * length as usize + 4000];
    engine.process(&mut out);
    let from = length as usize + engine.latency() as usize;
    out[from..from + length as usize].to_vec()
}

fn peak_db(frames: &[Frame]) -> f64 {
    gain_to_db(frames.as_flattened().iter().fold(0.0, |most: f64, x| most.max(x.abs())))
}

/// A kick that falls in pitch, and a bass of one note that begins with it.
fn kick_and_bass() -> (Scene, StripId, StripId) {
    let mut scene = Scene::new();
    let kick = scene.lane("Kick", 0.35, &[0, 960, 1920, 2880], |t| {
        0.7 * libm::exp(-t / 0.12) * libm::sin(TAU * (55.0 * t + 4.0 * (1.0 - libm::exp(-t / 0.02))))
    });
    let bass = scene.lane("Bass", 2.0, &[0], |t| 0.35 * libm::sin(TAU * 61.0 * t) + 0.12 * libm::sin(TAU * 700.0 * t));
    (scene, kick, bass)
}

#[rstest]
#[case::plain(0.0, false)]
#[case::ahead(4.0, false)]
#[case::two_keys_one_of_them_late(2.0, true)]
fn peak_and_loudness_of_both_are_those_of_a_render(#[case] lookahead: f64, #[case] two: bool) {
    let (mut scene, kick, bass) = kick_and_bass();
    let ducker = scene.add(bass, compressor(-36.0, lookahead), Some(kick));
    if two {
        let tom = scene.lane("Tom", 0.3, &[1440], |t| 0.6 * libm::exp(-t / 0.1) * libm::sin(TAU * 90.0 * t));
        scene.add(tom, Settings::Limiter(Limiter { ceiling_dbtp: -6.0, ..Limiter::default() }), None);
        let key = Key { also: [Some(tom), None, None], ..Key::new(kick) };
        scene.edit(Edit::SetProcessor(SetProcessor {
            strip: bass,
            processor: ducker,
            change: ProcessorChange::Key(Some(key)),
        }));
    }
    // What comes after it counts too.
    scene.add(bass, Settings::Limiter(Limiter { ceiling_dbtp: -14.0, ..Limiter::default() }), None);
    scene.edit(Edit::SetStrips(SetStrips {
        strips: vec![bass],
        change: lane_document::edit::StripChange::FaderDb(-2.0),
    }));
    let said = scene.run(Some(ducker)).pair_figures().unwrap();
    let with = rendered(&scene);
    assert!((said.peak_dbfs[1] - peak_db(&with)).abs() < 0.05, "{} for {}", said.peak_dbfs[1], peak_db(&with));
    let mut meter = lane_analysis::LoudnessMeter::new(RATE);
    meter.take(&with);
    assert!((said.loudness_lufs[1] - meter.read().integrated_lufs).abs() < 0.1, "{said:?}");
    scene.set(ducker, idle());
    let without = rendered(&scene);
    assert!((said.peak_dbfs[0] - peak_db(&without)).abs() < 0.3, "{} for {}", said.peak_dbfs[0], peak_db(&without));
}

#[rstest]
fn a_sum_is_kept_by_the_least_depth_that_does(
    #[values(SumBy::Peak, SumBy::Average)] by: SumBy,
    #[values(0.5, 1.5, 3.0)] over_db: f64,
) {
    let (mut scene, kick, bass) = kick_and_bass();
    let ducker = scene.add(bass, compressor(-20.0, 3.0), Some(kick));
    let found = solve(&scene.run(Some(ducker)), ducker, Goal::Sum { over_db, by }).unwrap();
    let sum = found.sum.unwrap();
    let level = |frames: &[Frame]| match by {
        SumBy::Peak => peak_db(frames),
        SumBy::Average => {
            10.0 * libm::log10(frames.as_flattened().iter().map(|x| x * x).sum::<f64>() / (2 * frames.len()) as f64)
        }
    };
    let threshold = |settings: &Settings| match settings {
        Settings::Compressor(c) => c.threshold_dbfs,
        _ => unreachable!("it stays a compressor"),
    };
    scene.set(ducker, found.settings.clone());
    let with = level(&rendered(&scene));
    assert!((with - sum.with).abs() < 0.1, "said {sum:?}, rendered {with}");
    if found.short.is_none() {
        assert!(sum.without > sum.key + over_db && with <= sum.key + over_db + 0.1);
        // By brute force: no higher threshold does.
        for step in 1..40 {
            let higher = (threshold(&found.settings) + 0.8 * f64::from(step)).min(0.0);
            scene.set(ducker, compressor(higher, 3.0));
            let tried = level(&rendered(&scene));
            assert!(tried > sum.key + over_db - 0.1, "{tried} at {higher}, for {} at most", sum.key + over_db);
        }
    }
}

#[test]
fn what_cannot_be_kept_says_how_near_it_gets() {
    let (mut scene, kick, _) = kick_and_bass();
    // Between the hits it is as loud as ever.
    let loud = scene.lane("Loud", 2.0, &[0], |t| 0.95 * libm::sin(TAU * 61.0 * t));
    let ducker = scene.add(loud, compressor(-20.0, 0.0), Some(kick));
    let found = solve(&scene.run(Some(ducker)), ducker, Goal::Sum { over_db: 0.0, by: SumBy::Peak }).unwrap();
    assert!(found.short.unwrap().contains("over the key alone is as near as it gets to 0.0"));
    let quiet = scene.lane("Quiet", 2.0, &[0], |t| 0.001 * libm::sin(TAU * 61.0 * t));
    let ducker = scene.add(quiet, compressor(-20.0, 0.0), Some(kick));
    let found = solve(&scene.run(Some(ducker)), ducker, Goal::Sum { over_db: 3.0, by: SumBy::Peak }).unwrap();
    assert!(found.short.unwrap().contains("no louder than that without it"));
}

#[test]
fn a_kick_and_a_bass_get_a_band_that_lessens_what_they_share() {
    let (mut scene, kick, bass) = kick_and_bass();
    let ducker = scene.add(bass, idle(), Some(kick));
    let room = make_room(&scene.run(Some(ducker)), ducker).unwrap();
    assert!(room.overlap_percent > 40.0, "{room:?}");
    let proposal = room.proposal.unwrap();
    let (from, to) = proposal.band_hz.unwrap();
    assert!(from <= 61.0 && (61.0..=250.0).contains(&to), "{from} to {to} Hz");
    let [before, behind] = proposal.figures.overlap_percent.unwrap();
    assert!((before - room.overlap_percent).abs() < 1e-9 && behind <= 0.75 * before, "{before} to {behind}");
    assert!(proposal.recovery_ms.is_some_and(|ms| ms >= 0.0), "{proposal:?}");
    // Taken over and heard again, it is what was said.
    scene.set(ducker, proposal.settings.clone());
    let run = scene.run(Some(ducker));
    let again = run.pair_figures().unwrap();
    let [_, heard] = again.overlap_percent.unwrap();
    assert!((heard - behind).abs() <= 0.2 * behind.max(5.0), "{heard} for {behind}");
    assert!((again.peak_dbfs[1] - proposal.figures.peak_dbfs[1]).abs() < 0.5);
    assert!((peak_db(&rendered(&scene)) - proposal.figures.peak_dbfs[1]).abs() < 0.5);
    let figures = run.read().into_iter().find(|d| d.processor == ducker).unwrap().figures;
    assert!((figures.depth_db - proposal.depth_db).abs() < 0.3 && figures.recovers(), "{figures:?}");
    assert!(again.bands.iter().map(|b| b.shared_percent).sum::<f64>() > 99.0);
}

#[test]
fn what_is_shared_all_over_is_ducked_whole_or_not_at_all() {
    let mut scene = Scene::new();
    // Five octaves and more, none louder than the others.
    let wide = |t: f64| [110.0, 330.0, 990.0, 2970.0, 8910.0].iter().map(|hz| libm::sin(TAU * hz * t)).sum::<f64>();
    let clap = scene.lane("Clap", 0.2, &[960, 2880], |t| 0.15 * libm::exp(-t / 0.05) * wide(t));
    let hat = scene.lane("Hat", 2.0, &[0], |t| 0.06 * wide(t + 0.0007));
    let ducker = scene.add(hat, idle(), Some(clap));
    let room = make_room(&scene.run(Some(ducker)), ducker).unwrap();
    assert!(room.overlap_percent > 30.0, "{room:?}");
    // All over the spectrum 11 dB may be too little to be worth it; then that is said.
    match room.proposal {
        Some(proposal) => assert_eq!((proposal.band_hz, proposal.settings.word()), (None, "compressor".to_owned())),
        None => assert!(room.short.unwrap().contains("too little of it away")),
    }
}

#[test]
fn what_shares_nothing_needs_no_room() {
    let (mut scene, kick, _) = kick_and_bass();
    let hat = scene.lane("Hat", 0.1, &[0, 480, 960], |t| 0.2 * libm::sin(TAU * 9000.0 * t));
    let late = scene.lane("Late", 0.05, &[720], |t| 0.2 * libm::sin(TAU * 60.0 * t));
    let silent = scene.lane("Silent", 0.05, &[], |_| 0.5);
    for (target, why) in [
        (hat, "share next to nothing"),
        (late, "never sound at the same time"),
        (silent, "never sound at the same time"),
    ] {
        let ducker = scene.add(target, idle(), Some(kick));
        let room = make_room(&scene.run(Some(ducker)), ducker).unwrap();
        assert!(room.proposal.is_none() && room.short.as_ref().is_some_and(|s| s.contains(why)), "{room:?}");
    }
}

#[test]
fn what_takes_from_each_other_is_turned_round_or_waits_first() {
    let (mut scene, kick, _) = kick_and_bass();
    let sound = |t: f64| 0.6 * libm::exp(-t / 0.12) * libm::sin(TAU * (55.0 * t + 4.0 * (1.0 - libm::exp(-t / 0.02))));
    let turned = scene.lane("Turned", 0.35, &[0, 960, 1920, 2880], |t| -sound(t));
    let ducker = scene.add(turned, idle(), Some(kick));
    let room = make_room(&scene.run(Some(ducker)), ducker).unwrap();
    let Some(Alternative::Polarity { gain_db }) = room.first else { panic!("{room:?}") };
    assert!(gain_db > 10.0);

    // A short tone that comes 4 ms early is against the other.
    let tone = |t: f64| if t < 0.1 { 0.5 * libm::sin(TAU * 125.0 * t) * libm::sin(TAU * 5.0 * t) } else { 0.0 };
    let other =
        scene.lane("Other", 0.12, &[0, 960, 1920, 2880], move |t| if t < 0.004 { 0.0 } else { tone(t - 0.004) });
    let early = scene.lane("Early", 0.12, &[0, 960, 1920, 2880], tone);
    let ducker = scene.add(early, idle(), Some(other));
    let room = make_room(&scene.run(Some(ducker)), ducker).unwrap();
    match room.first {
        Some(Alternative::Delay { frames, .. }) => assert!(frames.abs_diff(192) <= 1, "{frames}"),
        // Half a wave is nearly the same as turning round.
        Some(Alternative::Polarity { gain_db }) => assert!(gain_db > 3.0),
        None => panic!("{room:?}"),
    }

    // Two sounds that add need neither.
    let same = scene.lane("Same", 0.35, &[0, 960, 1920, 2880], sound);
    let ducker = scene.add(same, idle(), Some(kick));
    assert_eq!(make_room(&scene.run(Some(ducker)), ducker).unwrap().first, None);
}

#[test]
fn without_a_focus_or_a_key_there_is_no_pair() {
    let (mut scene, kick, bass) = kick_and_bass();
    let ducker = scene.add(bass, compressor(-30.0, 0.0), Some(kick));
    let beat = scene.add(bass, Settings::BeatShape(BeatShape::default()), None);
    assert!(scene.run(None).pair_figures().is_none());
    assert!(scene.run(Some(beat)).pair_figures().is_none());
    assert!(make_room(&scene.run(Some(beat)), ducker).is_none());
}

#[test]
fn a_trigger_is_no_part_of_what_is_heard() {
    let (mut scene, kick, bass) = kick_and_bass();
    let ducker = scene.add(bass, compressor(-36.0, 0.0), Some(kick));
    scene.edit(Edit::SetTriggers(SetTriggers { voices: vec![scene.session.voices[0].id], trigger: true }));
    let said = scene.run(Some(ducker)).pair_figures().unwrap();
    assert_eq!((said.key_peak_dbfs, &said.overlap_percent), (-150.0, &None));
    let with = peak_db(&rendered(&scene));
    assert!((said.peak_dbfs[1] - with).abs() < 0.05, "{} for {with}", said.peak_dbfs[1]);
    let room = make_room(&scene.run_in(Focus::Alone(ducker)), ducker).unwrap();
    assert!(room.proposal.is_none() && room.short.unwrap().contains("never sound at the same time"));
}
