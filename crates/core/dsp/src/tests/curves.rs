use super::*;

#[rstest]
#[case::soft(Settings::Saturation(Saturation { drive_db: 12.0, hardness_percent: 0.0 }), 80.0)]
#[case::hard(Settings::Saturation(Saturation { drive_db: 12.0, hardness_percent: 100.0 }), 60.0)]
#[case::hard_clipper(Settings::Clipper(Clipper { ceiling_dbfs: -12.0, hardness_percent: 100.0 }), 60.0)]
fn what_folds_back_stays_under_the_fundamental(#[case] settings: Settings, #[case] under_db: f64) {
    let out = settled(settings, 5000.0, 0.0);
    let fundamental = amplitude(&out, 5000);
    // 5 kHz repeats every 9.6 samples, so that images can only fall on whole kilohertz.
    let worst = (1..24).filter(|k| k % 5 != 0).map(|k| amplitude(&out, 1000 * k)).fold(0.0, f64::max);
    let found = gain_to_db(fundamental / worst);
    assert!(found > under_db, "{found} dB");
}

#[rstest]
fn a_soft_sound_passes_a_curve_as_it_is(
    #[values(50.0, 1000.0, 10_000.0, 18_000.0)] hz: f64,
    #[values(3, 4)] kind: usize,
) {
    let settings = if kind == 3 {
        Settings::Saturation(Saturation { drive_db: 6.0, hardness_percent: 0.0 })
    } else {
        Settings::Clipper(Clipper::default())
    };
    let out = settled(settings, hz, -70.0);
    let db = gain_to_db(amplitude(&out, hz as usize)) + 70.0;
    assert!(db.abs() < 0.1, "{db} dB");
    if hz < 2000.0 {
        assert!(db.abs() < 0.01, "{db} dB");
    }
}

#[rstest]
fn what_the_filters_round_lies_far_under_the_sound(#[values(0.0, -40.0, -80.0)] level_dbfs: f64) {
    let straight = Settings::Clipper(Clipper { ceiling_dbfs: 0.0, hardness_percent: 100.0 });
    let out = settled(straight, 997.0, level_dbfs - 0.1);
    // What is left when the tone itself is taken out by least squares.
    let turn = |n: usize| std::f64::consts::TAU * 997.0 * n as f64 / 48_000.0;
    let fit = |wave: &dyn Fn(usize) -> f64| {
        2.0 * out.iter().enumerate().map(|(n, f)| f[0] * wave(n)).sum::<f64>() / out.len() as f64
    };
    let (re, im) = (fit(&|n| turn(n).cos()), fit(&|n| turn(n).sin()));
    let left = |(n, f): (usize, &Frame)| (f[0] - re * turn(n).cos() - im * turn(n).sin()).powi(2);
    let noise = (2.0 * out.iter().enumerate().map(left).sum::<f64>() / out.len() as f64).sqrt();
    let under = gain_to_db(noise) - level_dbfs;
    assert!(under < -120.0, "{under} dB");
}

#[test]
fn the_delay_of_a_curve_is_the_one_it_says() {
    let settings = Settings::Saturation(Saturation { drive_db: 0.0, hardness_percent: 0.0 });
    let latency = settings.latency(RATE);
    let sound: Vec<Frame> = (0..8000).map(|n| [0.001 * (f64::from(n) * 0.05).sin(); 2]).collect();
    let out = run(&mut slot_of(&plan(settings), 128, RATE), &sound, None, 128);
    for n in 1000..7000 {
        assert!((out[n + latency][0] - sound[n][0]).abs() < 2e-6, "frame {n}");
    }
}

#[rstest]
#[case::hard(100.0)]
#[case::soft(0.0)]
#[case::blended(50.0)]
fn the_ceiling_is_kept_but_for_what_the_filter_lifts(#[case] hardness_percent: f64) {
    let settings = Settings::Clipper(Clipper { ceiling_dbfs: -6.0, hardness_percent });
    let out = run(&mut slot_of(&plan(settings.clone()), 128, RATE), &music(24_000), None, 128);
    let most = out.as_flattened().iter().fold(0.0, |m: f64, x| m.max(x.abs()));
    assert!((-7.5..-4.8).contains(&gain_to_db(most)), "{}", gain_to_db(most));
    // A steady level is held exactly.
    let steady = run(&mut slot_of(&plan(settings), 128, RATE), &[[2.0, -2.0]; 4000], None, 128);
    let expected = if hardness_percent == 100.0 { db_to_gain(-6.0) } else { steady[3000][0] };
    assert!((steady[3999][0] - expected).abs() < 1e-9 && steady[3999][0] <= db_to_gain(-6.0) + 1e-9);
}

#[rstest]
#[case(1.0, 3)]
#[case(3.0, 9)]
#[case(4.0, 17)]
fn a_quantiser_has_the_steps_of_its_bits(#[case] bits: f64, #[case] steps: usize) {
    let ramp: Vec<Frame> = (0..20_001).map(|n| [f64::from(n - 10_000) / 10_000.0; 2]).collect();
    let settings = Settings::Crush(Crush { bits, rate_percent: 100.0 });
    let out = run(&mut slot_of(&plan(settings), 128, RATE), &ramp, None, 128);
    let mut values: Vec<f64> = out.iter().map(|f| f[0]).collect();
    values.dedup();
    assert_eq!(values.len(), steps);
}

#[test]
fn a_held_sample_changes_at_the_rate_asked() {
    let ramp: Vec<Frame> = (0..8000).map(|n| [f64::from(n) / 10_000.0, -f64::from(n) / 10_000.0]).collect();
    let settings = Settings::Crush(Crush { bits: 24.0, rate_percent: 25.0 });
    let out = run(&mut slot_of(&plan(settings), 128, RATE), &ramp, None, 128);
    let changes = out.windows(2).filter(|w| w[0] != w[1]).count();
    assert_eq!(changes, 1999);
    assert!(out.iter().all(|f| f[0] + f[1] == 0.0), "both sides are held at once");
}

#[rstest]
#[case::lows(60.0, Enhancer { low_percent: 100.0, ..Enhancer::default() })]
#[case::highs(5000.0, Enhancer { high_percent: 100.0, ..Enhancer::default() })]
fn an_enhancer_adds_harmonics_and_leaves_the_fundamental(#[case] hz: f64, #[case] settings: Enhancer) {
    for level in [0.0, -30.0] {
        let out = settled(Settings::Enhancer(settings.clone()), hz, level);
        let at = |times: usize| gain_to_db(amplitude(&out, hz as usize * times)) - level;
        assert!(at(1).abs() < 0.2, "fundamental {} dB", at(1));
        assert!((-20.0..0.0).contains(&at(2)), "second {} dB", at(2));
        assert!((-30.0..0.0).contains(&at(3)), "third {} dB", at(3));
    }
}

/// What a tone has gained in dB at its own frequency, once it has settled: over a second, so of whole waves.
fn fundamental_db(settings: &Settings, hz: f64, level_dbfs: f64, rate: u32) -> f64 {
    let turn = |n: u32| std::f64::consts::TAU * (u64::from(n) * hz as u64 % u64::from(rate)) as f64 / f64::from(rate);
    let (settle, a) = (rate / 4, db_to_gain(level_dbfs));
    let sound: Vec<Frame> = (0..settle + rate).map(|n| [a * turn(n).sin(); 2]).collect();
    let out = run(&mut slot_of(&plan(settings.clone()), 480, rate), &sound, None, 480);
    let (re, im) = (settle..settle + rate).fold((0.0, 0.0), |(re, im), n| {
        let x = out[n as usize][0];
        (re + x * turn(n).cos(), im + x * turn(n).sin())
    });
    gain_to_db(2.0 * f64::hypot(re, im) / f64::from(rate)) - level_dbfs
}

#[rstest]
fn an_enhancer_of_highs_leaves_every_fundamental(
    #[values(1500.0, 2200.0, 3000.0, 4000.0, 5000.0)] high_hz: f64,
    #[values(0.0, -40.0)] level: f64,
    #[values(44_100, 48_000, 96_000)] rate: u32,
) {
    let settings = Settings::Enhancer(Enhancer { high_hz, high_percent: 100.0, ..Enhancer::default() });
    for hz in [700.0, 1100.0, 1500.0, 1510.0, 2000.0, 2770.0, 3000.0, 3650.0, 4800.0, 5000.0, 6000.0, 7010.0, 9000.0] {
        let at = fundamental_db(&settings, hz, level, rate);
        assert!(at.abs() < 0.2, "{hz} Hz: {at} dB");
    }
}

#[rstest]
fn an_enhancer_of_lows_leaves_every_fundamental(
    #[values(40.0, 60.0, 100.0, 170.0, 250.0)] low_hz: f64,
    #[values(44_100, 48_000, 96_000)] rate: u32,
) {
    let settings = Settings::Enhancer(Enhancer { low_hz, low_percent: 100.0, ..Enhancer::default() });
    for hz in [20.0, 30.0, 40.0, 50.0, 70.0, 100.0, 150.0, 200.0, 250.0, 300.0, 400.0] {
        let at = fundamental_db(&settings, hz, -6.0, rate);
        assert!(at.abs() < 0.2, "{hz} Hz: {at} dB");
    }
}

#[test]
fn an_enhancer_leaves_what_lies_outside_its_bands() {
    let both = Enhancer { low_percent: 100.0, high_percent: 100.0, ..Enhancer::default() };
    let out = settled(Settings::Enhancer(both), 600.0, -6.0);
    let added = (2..8).map(|k| amplitude(&out, 600 * k)).fold(0.0, f64::max);
    assert!(gain_to_db(added) + 6.0 < -40.0, "{}", gain_to_db(added));
}
