use super::*;

fn both(left: &[f64]) -> Vec<[f32; 2]> {
    left.iter().map(|x| [*x as f32; 2]).collect()
}

fn moved(sound: &[f64], by: i64) -> Vec<f64> {
    let at = |n: usize| usize::try_from(n as i64 - by).ok().and_then(|n| sound.get(n)).copied().unwrap_or(0.0);
    (0..sound.len()).map(at).collect()
}

#[rstest]
fn known_delays_and_polarities_are_found_to_the_sample(
    #[values(-480, -121, -7, -1, 0, 1, 13, 240, 479)] by: i64,
    #[values(1.0, -0.4)] gain: f64,
) {
    let sound = noise(7, 60_000);
    let second: Vec<f64> = moved(&sound, by).iter().map(|x| gain * x).collect();
    let found = align(&both(&sound), &both(&second), 481);
    assert_eq!((found.whole_frames() as i64, found.inverted), (by, gain < 0.0), "{found:?}");
    assert!((found.delay_frames - by as f64).abs() < 0.06, "{found:?}");
    assert!(found.correlation > 0.99, "{found:?}");
    let plain = by == 0 && gain > 0.0;
    assert_eq!(found.verdict, if plain { Verdict::InTime } else { Verdict::Off });
}

/// A sound without much above 6 kHz, moved by a part of a frame.
#[rstest]
fn delays_between_frames_are_found_to_a_tenth(#[values(-3.3, 0.2, 0.5, 10.7, 100.4)] by: f64) {
    let mut dice = Dice(3);
    let tones: Vec<(f64, f64)> = (0..300).map(|_| (3000.0 + 3000.0 * dice.next(), 10.0 * dice.next())).collect();
    let at = |n: f64| {
        tones.iter().map(|(hz, turn)| libm::sin(std::f64::consts::TAU * hz * n / 48_000.0 + turn)).sum::<f64>() / 300.0
    };
    let sound: Vec<f64> = (0..30_000).map(|n| at(n as f64)).collect();
    let late: Vec<f64> = (0..30_000).map(|n| at(n as f64 - by)).collect();
    let found = align(&both(&sound), &both(&late), 481);
    assert!((found.delay_frames - by).abs() <= 0.1, "{found:?}");
}

/// Two parts, one of them alike: what a correlation is by its formula.
#[rstest]
fn correlation_is_that_of_the_formula(#[values(0.0, 0.3, 1.0, 3.0)] other: f64, #[values(0, 25)] by: i64) {
    let (sound, else_) = (noise(1, 80_000), noise(2, 80_000));
    let second: Vec<f64> = moved(&sound, by).iter().zip(&else_).map(|(a, b)| a + other * b).collect();
    let found = align(&both(&sound), &both(&second), 480);
    let dot = |a: &[f64], b: &[f64]| a.iter().zip(b).map(|(a, b)| a * b).sum::<f64>();
    let expected = |by: i64| {
        let first = moved(&sound, by);
        dot(&first, &second) / (dot(&sound, &sound) * dot(&second, &second)).sqrt()
    };
    assert!((found.correlation - expected(by)).abs() < 0.01, "{found:?} {}", expected(by));
    assert!((found.now - expected(0)).abs() < 0.01, "{found:?}");
    assert!((expected(by) - 1.0 / (1.0 + other * other).sqrt()).abs() < 0.01);
}

#[test]
fn what_is_silent_or_has_nothing_in_common_is_said_so() {
    let (sound, nothing) = (both(&noise(1, 40_000)), both(&vec![0.0; 40_000]));
    assert_eq!(align(&sound, &nothing, 480).verdict, Verdict::Silent);
    assert_eq!(align(&nothing, &sound, 480).verdict, Verdict::Silent);
    assert_eq!(align(&[], &[], 480).verdict, Verdict::Silent);
    let found = align(&sound, &both(&noise(2, 40_000)), 480);
    assert_eq!(found.verdict, Verdict::Unrelated);
    assert!(found.correlation < 0.05, "{found:?}");
}

/// A low tone looks alike again half a period on: the nearest such place counts.
#[test]
fn of_places_that_are_as_good_the_nearest_counts() {
    let tone: Vec<f64> =
        (0..96_000).map(|n| 0.5 * libm::sin(std::f64::consts::TAU * 400.0 * n as f64 / 48_000.0)).collect();
    let found = align(&both(&tone), &both(&moved(&tone, 20)), 480);
    assert_eq!((found.whole_frames(), found.inverted), (20, false), "{found:?}");
}

#[rstest]
#[case::delayed(Some(240.0), false)]
#[case::inverted(None, true)]
#[case::both(Some(31.0), true)]
fn a_return_that_lies_off_is_found_and_mended(#[case] delay: Option<f64>, #[case] inverted: bool) {
    let mut stage = Stage::new();
    let lane = stage.recording("Snare", &noise(5, 2 * BAR as usize));
    // Its lookahead is made up for and counts as no delay.
    let chain = vec![Settings::Compressor(Compressor { range_db: 0.0, lookahead_ms: 3.0, ..Compressor::default() })];
    let path = stage.path(&[lane], chain, -6.0);
    if let Some(frames) = delay {
        stage.add(path, Settings::StereoImage(StereoImage { delay_frames: frames, ..StereoImage::default() }), None);
    }
    if inverted {
        stage.set(path, StripChange::Polarity(Polarity::Inverted));
    }
    let found = stage.run(None, &[]).returns()[0].alignment;
    assert_eq!(found.whole_frames(), delay.unwrap_or(0.0) as i32, "{found:?}");
    assert_eq!((found.inverted, found.verdict), (inverted, Verdict::Off), "{found:?}");
    assert!(found.correlation > 0.99, "{found:?}");
    stage.set(path, StripChange::OffsetFrames(-found.whole_frames()));
    stage.set(path, StripChange::Polarity(Polarity::Normal));
    let mended = stage.run(Some(path), &[]).returns()[0].alignment;
    assert_eq!((mended.whole_frames(), mended.inverted, mended.verdict), (0, false, Verdict::InTime), "{mended:?}");
    // Both come to what they would without any delay.
    let peak = |stage: &Stage| stage.rendered(true).as_flattened().iter().fold(0.0, |m: f64, x| m.max(x.abs()));
    let alone = {
        let mut alone = Stage { s: stage.s.clone(), bank: stage.bank.clone() };
        alone.set(path, StripChange::Mute(true));
        peak(&alone)
    };
    assert!((peak(&stage) / alone - (1.0 + db_to_gain(-6.0))).abs() < 1e-6);
}

#[test]
fn rooms_and_echoes_are_never_late() {
    for space in [Settings::Reverb(Reverb::default()), Settings::Delay(Delay::default())] {
        let mut stage = Stage::new();
        let lane = stage.recording("Snare", &noise(5, BAR as usize));
        stage.path(&[lane], vec![space], -6.0);
        assert_eq!(stage.run(None, &[]).returns()[0].alignment.verdict, Verdict::Space);
    }
}

#[test]
fn lanes_are_held_against_the_first_wherever_they_are_panned() {
    let mut stage = Stage::new();
    let sound = burst(9, 20_000, 3000.0);
    let top = stage.recording("Top", &sound);
    let under = stage.recording("Under", &moved(&sound, 37).iter().map(|x| -0.7 * x).collect::<Vec<_>>());
    let early = stage.recording("Early", &moved(&sound, -11));
    let other = stage.recording("Keys", &noise(77, 90_000));
    stage.set(top, StripChange::PanPercent(-100.0));
    stage.set(under, StripChange::PanPercent(100.0));
    let run = stage.run(None, &[top, under, early, other]);
    let found: Vec<_> =
        run.lanes().iter().map(|r| (r.strip, r.alignment.whole_frames(), r.alignment.inverted)).collect();
    assert_eq!(found[..2], [(under, 37, true), (early, -11, false)]);
    assert_eq!(run.lanes()[2].alignment.verdict, Verdict::Unrelated);
    // One reference, the rest moved to it: then all are in time.
    for (strip, frames, inverted) in found.into_iter().take(2) {
        stage.set(strip, StripChange::OffsetFrames(-frames));
        stage.set(strip, StripChange::Polarity(if inverted { Polarity::Inverted } else { Polarity::Normal }));
    }
    for reading in &stage.run(None, &[top, under, early]).lanes() {
        assert_eq!((reading.alignment.whole_frames(), reading.alignment.inverted), (0, false), "{reading:?}");
    }
}

#[rstest]
fn hollows_stand_where_the_formula_has_them(#[values(24, 48)] by: i64) {
    let sound = noise(4, 150_000);
    let (first, second) = (both(&sound), both(&moved(&sound, by)));
    let alignment = align(&first, &second, 480);
    let found = comb(&first, &second, 0.0, &alignment, RATE);
    let at = |hz: f64| {
        let n = found.hz.iter().position(|x| *x >= hz / 1.015).unwrap();
        found.now_db[n].unwrap()
    };
    let hollow = 48_000.0 / (2.0 * by as f64);
    assert!(at(hollow) < -15.0, "{}", at(hollow));
    assert!((at(2.0 * hollow) - 6.02).abs() < 0.6, "{}", at(2.0 * hollow));
    assert!((at(40.0) - 6.0).abs() < 0.3, "{}", at(40.0));
    assert!(found.hollows_hz.iter().any(|hz| (hz / hollow - 1.0).abs() < 0.03), "{:?}", found.hollows_hz);
    assert!(found.mended_db.iter().all(|db| (db.unwrap() - 6.02).abs() < 0.4), "{:?}", found.mended_db);
}
