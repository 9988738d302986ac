use super::equaliser::{Shape, Slope, Switch};
use super::*;
use crate::units::{Frame, db_to_gain, gain_to_db};
use rstest::rstest;

const RATE: u32 = 48_000;

fn plan(settings: Settings) -> SlotPlan {
    SlotPlan { on: true, input_db: 0.0, output_db: 0.0, mix_percent: 100.0, settings }
}

/// Something between noise and drums, the same each time.
fn music(frames: usize) -> Vec<Frame> {
    let mut dice = crate::units::Dice::new(&[7]);
    (0..frames)
        .map(|n| {
            let hit = libm::exp(-((n % 6000) as f64) / 900.0);
            let tone = libm::sin(n as f64 * 0.05);
            [hit * (0.6 * tone + 0.3 * dice.spread()), hit * (0.6 * tone + 0.3 * dice.spread())]
        })
        .collect()
}

/// A square wave of 1 kHz, whose magnitude is the same at every sample.
fn square(level_dbfs: f64, frames: usize) -> Vec<Frame> {
    let a = db_to_gain(level_dbfs);
    (0..frames).map(|n| if n / 24 % 2 == 0 { [a, a] } else { [-a, -a] }).collect()
}

fn run(slot: &mut Slot, sound: &[Frame], key: Option<&[Frame]>, block: usize) -> Vec<Frame> {
    let mut out = sound.to_vec();
    for (n, piece) in out.chunks_mut(block).enumerate() {
        let at = n * block;
        slot.process(piece, key.map(|k| &k[at..at + piece.len()]));
    }
    out
}

/// Settings that do something.
fn busy(kind: usize) -> Settings {
    match kind {
        0 => Settings::Compressor(Compressor {
            threshold_dbfs: -30.0,
            attack_ms: 1.0,
            lookahead_ms: 1.0,
            link_percent: 50.0,
            makeup_db: 3.0,
            detect: compressor::Detect::Rms,
            ..Compressor::default()
        }),
        1 => Settings::Gate(Gate { threshold_dbfs: -20.0, lookahead_ms: 0.5, ratio: 3.0, ..Gate::default() }),
        2 => Settings::Transient(Transient { attack_db: 9.0, sustain_db: -12.0, ..Transient::default() }),
        3 => Settings::Saturation(Saturation { drive_db: 18.0, hardness_percent: 30.0 }),
        4 => Settings::Clipper(Clipper { ceiling_dbfs: -9.0, hardness_percent: 60.0 }),
        5 => Settings::Crush(Crush { bits: 5.5, rate_percent: 30.0 }),
        6 => Settings::Equaliser(Equaliser {
            bands: vec![
                Band { shape: Shape::HighPass, freq_hz: 60.0, slope: Slope::Db18, ..Band::default() },
                Band { freq_hz: 3000.0, gain_db: 8.0, ..Band::default() },
                Band { shape: Shape::LowShelf, freq_hz: 200.0, gain_db: -6.0, ..Band::default() },
            ],
        }),
        _ => Settings::Utility(Utility {
            gain_db: 2.0,
            delay_frames: 100.0,
            mono_below_hz: 120.0,
            width_percent: 150.0,
            polarity: utility::Polarities::Left,
        }),
    }
}

#[rstest]
fn off_or_at_no_mix_nothing_changes(#[values(0, 1, 2, 3, 4, 5, 6, 7)] kind: usize, #[values(true, false)] on: bool) {
    let sound = music(4000);
    let settings = busy(kind);
    let latency = settings.latency(RATE);
    let mut slot = Slot::new(&SlotPlan { on, mix_percent: if on { 0.0 } else { 100.0 }, ..plan(settings) }, 128, RATE);
    let out = run(&mut slot, &sound, None, 128);
    assert_eq!(out[latency..], sound[..4000 - latency]);
}

#[rstest]
#[case::compressor(Settings::Compressor(Compressor { ratio: 1.0, ..Compressor::default() }))]
#[case::compressor_range(Settings::Compressor(Compressor { range_db: 0.0, threshold_dbfs: -60.0, ..Compressor::default() }))]
#[case::gate(Settings::Gate(Gate { range_db: 0.0, ..Gate::default() }))]
#[case::transient(Settings::Transient(Transient::default()))]
#[case::crush(Settings::Crush(Crush::default()))]
#[case::utility(Settings::Utility(Utility::default()))]
fn neutral_settings_are_transparent(#[case] settings: Settings) {
    let sound = music(4000);
    assert_eq!(run(&mut Slot::new(&plan(settings), 128, RATE), &sound, None, 128), sound);
}

#[rstest]
fn block_sizes_make_no_difference(
    #[values(0, 1, 2, 3, 4, 5, 6, 7)] kind: usize,
    #[values(1, 64, 480, 4096)] block: usize,
) {
    let (sound, key) = (music(12_000), square(-12.0, 12_000));
    let setting = SlotPlan { input_db: 1.5, output_db: -2.0, mix_percent: 70.0, ..plan(busy(kind)) };
    let expected = run(&mut Slot::new(&setting, 128, RATE), &sound, Some(&key), 128);
    assert_eq!(run(&mut Slot::new(&setting, block, RATE), &sound, Some(&key), block), expected);
}

#[rstest]
fn reset_is_as_good_as_new(#[values(0, 1, 2, 3, 4, 5, 6, 7)] kind: usize) {
    let sound = music(9000);
    let mut used = Slot::new(&plan(busy(kind)), 128, RATE);
    run(&mut used, &square(-1.0, 5000), None, 128);
    used.reset();
    assert_eq!(run(&mut used, &sound, None, 128), run(&mut Slot::new(&plan(busy(kind)), 128, RATE), &sound, None, 128));
}

#[rstest]
fn changes_on_the_way_neither_click_nor_break(#[values(0, 1, 2, 3, 4, 5, 6, 7)] kind: usize) {
    let mut dice = crate::units::Dice::new(&[kind as u64 + 1]);
    let sound: Vec<Frame> = (0..96_000).map(|n| [0.5 * libm::sin(n as f64 * 0.01); 2]).collect();
    let mut slot = Slot::new(&plan(busy(kind)), 480, RATE);
    let (mut last, mut steepest) = ([0.0; 2], 0.0_f64);
    for (n, piece) in sound.chunks(480).enumerate() {
        let unit = |dice: &mut crate::units::Dice| dice.unit();
        let mut settings = busy(kind);
        // Lookahead stays: moving it is another connection, which the engine joins.
        match &mut settings {
            Settings::Compressor(s) => {
                (s.threshold_dbfs, s.ratio) = (-60.0 * unit(&mut dice), 1.0 + 20.0 * unit(&mut dice));
            }
            Settings::Gate(s) => s.threshold_dbfs = -60.0 * unit(&mut dice),
            Settings::Transient(s) => s.attack_db = 18.0 * dice.spread(),
            Settings::Equaliser(s) => {
                (s.bands[1].gain_db, s.bands[0].freq_hz) = (24.0 * dice.spread(), 20.0 + 200.0 * unit(&mut dice));
            }
            Settings::Saturation(s) => s.drive_db = 24.0 * unit(&mut dice),
            Settings::Clipper(s) => s.ceiling_dbfs = -20.0 * unit(&mut dice),
            Settings::Crush(s) => s.rate_percent = 1.0 + 99.0 * unit(&mut dice),
            Settings::Utility(s) => {
                (s.gain_db, s.delay_frames) = (-20.0 * unit(&mut dice), 200.0 * unit(&mut dice));
            }
        }
        if n % 2 == 0 {
            slot.set(&SlotPlan { mix_percent: 100.0 * unit(&mut dice), on: n % 3 > 0, ..plan(settings) });
        }
        let mut out = piece.to_vec();
        slot.process(&mut out, None);
        for frame in out {
            assert!(frame[0].is_finite() && frame[1].is_finite());
            steepest = steepest.max((frame[0] - last[0]).abs());
            last = frame;
        }
    }
    // The sine itself moves by 0.005 a frame, doubled by makeup; a full step in 5 ms would move by 0.004 more.
    // The gate opens in half a millisecond; a sample that is held makes steps on purpose.
    let bound = match kind {
        1 => 0.05,
        5 => 1.0,
        _ => 0.03,
    };
    assert!(steepest < bound, "{steepest}");
}

/// The static curve of the paper, written out anew.
fn expected_reduction(level: f64, threshold: f64, ratio: f64, knee: f64) -> f64 {
    let out = if 2.0 * (level - threshold) < -knee {
        level
    } else if 2.0 * (level - threshold).abs() <= knee {
        level + (1.0 / ratio - 1.0) * (level - threshold + knee / 2.0).powi(2) / (2.0 * knee)
    } else {
        threshold + (level - threshold) / ratio
    };
    level - out
}

#[rstest]
fn the_static_curve_is_the_one_of_the_paper(
    #[values(-40.0, -26.0, -24.5, -20.0, -17.0, -6.0, 0.0)] level: f64,
    #[values(1.5, 4.0, 20.0)] ratio: f64,
    #[values(0.0, 6.0, 12.0)] knee: f64,
) {
    let settings = Compressor { threshold_dbfs: -22.0, ratio, knee_db: knee, attack_ms: 1.0, ..Compressor::default() };
    let expected = if knee == 0.0 {
        (level - settings.threshold_dbfs).max(0.0) * (1.0 - 1.0 / ratio)
    } else {
        expected_reduction(level, -22.0, ratio, knee)
    };
    let out = run(&mut Slot::new(&plan(Settings::Compressor(settings)), 256, RATE), &square(level, 24_000), None, 256);
    let found = level - gain_to_db(out[23_999][0].abs());
    assert!((found - expected).abs() < 0.05, "{found} dB, expected {expected}");
}

/// Frames until the reduction has gone 63.2 % of its way from one steady level to another.
fn time_constant(settings: Settings, from_dbfs: f64, to_dbfs: f64) -> f64 {
    let mut slot = Slot::new(&plan(settings), 256, RATE);
    run(&mut slot, &square(from_dbfs, 96_000), None, 256);
    let sound = square(to_dbfs, 96_000);
    let out = run(&mut slot, &sound, None, 256);
    let reduction = |n: usize| to_dbfs - gain_to_db(out[n][0].abs());
    let (first, last) = (reduction(0), reduction(95_999));
    let (start, target) = (first, first + (last - first) * (1.0 - (-1.0_f64).exp()));
    let reached = |n: &usize| (reduction(*n) - target) * (last - start).signum() >= 0.0;
    (0..96_000).find(reached).expect("it gets there") as f64
}

#[rstest]
fn time_constants_are_as_stated(#[values(2.0, 10.0, 50.0)] ms: f64) {
    let frames = ms * 48.0;
    let hard = Compressor { knee_db: 0.0, threshold_dbfs: -30.0, ..Compressor::default() };
    let attack = time_constant(Settings::Compressor(Compressor { attack_ms: ms, ..hard.clone() }), -40.0, 0.0);
    assert!((attack / frames - 1.0).abs() < 0.02 + 1.0 / frames, "attack {attack} of {frames}");
    let release = Compressor { attack_ms: 0.02, release_ms: ms, ..hard };
    let release = time_constant(Settings::Compressor(release), 0.0, -40.0);
    assert!((release / frames - 1.0).abs() < 0.02 + 2.0 / frames, "release {release} of {frames}");
    let gate = Gate { hold_ms: 0.0, range_db: 40.0, attack_ms: ms, release_ms: ms, ..Gate::default() };
    let opening = time_constant(Settings::Gate(gate.clone()), -60.0, -6.0);
    assert!((opening / frames - 1.0).abs() < 0.02 + 1.0 / frames, "opening {opening} of {frames}");
    let closing = time_constant(Settings::Gate(gate), -6.0, -60.0);
    assert!((closing / frames - 1.0).abs() < 0.02 + 1.0 / frames, "closing {closing} of {frames}");
}

#[test]
fn a_key_works_instead_of_the_sound_itself() {
    let settings =
        Settings::Compressor(Compressor { threshold_dbfs: -30.0, ratio: 100.0, knee_db: 0.0, ..Compressor::default() });
    let sound = square(-10.0, 24_000);
    let last =
        |key: &[Frame]| run(&mut Slot::new(&plan(settings.clone()), 128, RATE), &sound, Some(key), 128)[23_999][0];
    let quiet = last(&vec![[0.0; 2]; 24_000]);
    assert_eq!(quiet.abs(), db_to_gain(-10.0));
    let loud = gain_to_db(last(&square(-12.0, 24_000)).abs());
    assert!((loud - (-28.0)).abs() < 0.01, "reduced by what the key is over: {loud}");
}

#[test]
fn lookahead_reduces_before_the_hit() {
    let settings = Compressor {
        threshold_dbfs: -20.0,
        ratio: 100.0,
        knee_db: 0.0,
        attack_ms: 0.5,
        lookahead_ms: 5.0,
        ..Compressor::default()
    };
    let mut sound = square(-60.0, 2000);
    sound.extend(square(0.0, 2000));
    let out = run(&mut Slot::new(&plan(Settings::Compressor(settings)), 128, RATE), &sound, None, 128);
    assert_eq!(out[..240], vec![[0.0; 2]; 240]);
    // 5 ms are ten time constants: the first sample of the hit is down already.
    assert!((gain_to_db(out[2240][0].abs()) + 20.0).abs() < 0.01, "{}", gain_to_db(out[2240][0].abs()));
}

#[rstest]
#[case::gate(100.0, 60.0, -50.0, 60.0)]
#[case::expander(3.0, 60.0, -46.0, 20.0)]
#[case::expander_at_its_range(3.0, 12.0, -56.0, 12.0)]
#[case::open(100.0, 60.0, -30.0, 0.0)]
fn a_gate_takes_away_what_its_curve_says(
    #[case] ratio: f64,
    #[case] range_db: f64,
    #[case] level: f64,
    #[case] expected: f64,
) {
    let settings = Settings::Gate(Gate { threshold_dbfs: -36.0, ratio, range_db, ..Gate::default() });
    let out = run(&mut Slot::new(&plan(settings), 128, RATE), &square(level, 96_000), None, 128);
    let found = level - gain_to_db(out[95_999][0].abs());
    assert!((found - expected).abs() < 0.05, "{found}");
}

#[test]
fn an_open_gate_stays_open_within_its_hysteresis() {
    let settings = Settings::Gate(Gate { threshold_dbfs: -30.0, hysteresis_db: 6.0, hold_ms: 0.0, ..Gate::default() });
    let mut slot = Slot::new(&plan(settings), 128, RATE);
    let level = |slot: &mut Slot, db: f64| gain_to_db(run(slot, &square(db, 48_000), None, 128)[47_999][0].abs());
    assert!(level(&mut slot, -34.0) < -100.0, "shut at first");
    assert!((level(&mut slot, -20.0) + 20.0).abs() < 0.01);
    assert!((level(&mut slot, -34.0) + 34.0).abs() < 0.01, "still open");
    assert!(level(&mut slot, -37.0) < -100.0);
}

#[test]
fn a_utility_delays_to_the_sample_and_keeps_the_mono_sum() {
    let sound = music(4000);
    let with = |utility: Utility| run(&mut Slot::new(&plan(Settings::Utility(utility)), 128, RATE), &sound, None, 128);
    let delayed = with(Utility { delay_frames: 37.0, ..Utility::default() });
    assert_eq!(delayed[37..], sound[..3963]);
    let wide = with(Utility { width_percent: 180.0, mono_below_hz: 200.0, ..Utility::default() });
    for (a, b) in wide.iter().zip(&sound) {
        assert!((a[0] + a[1] - b[0] - b[1]).abs() < 1e-12);
    }
    let turned = with(Utility { polarity: utility::Polarities::Both, ..Utility::default() });
    assert!(turned.iter().zip(&sound).all(|(a, b)| a[0] == -b[0] && a[1] == -b[1]));
}

#[rstest]
#[case::under(40.0, 0.1)]
#[case::over(2000.0, 0.98)]
fn sides_are_filtered_away_under_a_frequency(#[case] hz: f64, #[case] bound: f64) {
    let side = |n: usize| libm::sin(std::f64::consts::TAU * hz * n as f64 / 48_000.0);
    let sound: Vec<Frame> = (0..48_000).map(|n| [side(n), -side(n)]).collect();
    let settings = Settings::Utility(Utility { mono_below_hz: 150.0, ..Utility::default() });
    let out = run(&mut Slot::new(&plan(settings), 128, RATE), &sound, None, 128);
    let peak = out[24_000..].iter().map(|f| f[0].abs()).fold(0.0, f64::max);
    assert!(if hz < 150.0 { peak < bound } else { peak > bound }, "{peak}");
}

#[test]
fn the_read_out_says_the_most_that_was_taken_away() {
    let settings = Settings::Compressor(Compressor { threshold_dbfs: -20.0, knee_db: 0.0, ..Compressor::default() });
    let mut slot = Slot::new(&plan(settings), 128, RATE);
    run(&mut slot, &square(0.0, 48_000), None, 128);
    assert!((slot.take_reduction_db() - 15.0).abs() < 0.01);
    run(&mut slot, &square(-60.0, 96_000), None, 128);
    assert!(slot.take_reduction_db() > 14.9, "what was left at the last reading");
    assert!(slot.take_reduction_db() < 0.01);
}

#[test]
fn every_kind_says_what_it_is() {
    for kind in Settings::kinds() {
        assert_eq!(kind.params.len(), kind.default.values().len());
        for (param, value) in kind.default.values() {
            assert!((param.min..=param.max).contains(&value) && value == param.default, "{}", param.name);
        }
        let json = serde_json::to_value(&kind.default).unwrap();
        let named = |name: &str| json.get(name).is_some();
        assert!(kind.params.iter().all(|p| named(p.name)) && kind.choices.iter().all(|c| named(c.name)), "{json}");
        for choice in &kind.choices {
            assert!(choice.options.iter().any(|(value, _)| json[choice.name] == *value));
        }
    }
}

/// Amplitude at a frequency, over one second of a signal that repeats within it.
fn amplitude(sound: &[Frame], hz: usize) -> f64 {
    let (mut re, mut im) = (0.0, 0.0);
    for (n, frame) in sound.iter().enumerate() {
        let turn = std::f64::consts::TAU * ((hz * n) % 48_000) as f64 / 48_000.0;
        re += frame[0] * turn.cos();
        im -= frame[0] * turn.sin();
    }
    2.0 * (re * re + im * im).sqrt() / sound.len() as f64
}

/// A second of a sine through a processor, once it has settled.
fn settled(settings: Settings, hz: f64, level_dbfs: f64) -> Vec<Frame> {
    let a = db_to_gain(level_dbfs);
    let sound: Vec<Frame> =
        (0..60_000).map(|n| [a * (std::f64::consts::TAU * hz * f64::from(n) / 48_000.0).sin(); 2]).collect();
    run(&mut Slot::new(&plan(settings), 480, RATE), &sound, None, 480)[12_000..].to_vec()
}

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

#[test]
fn the_delay_of_a_curve_is_the_one_it_says() {
    let settings = Settings::Saturation(Saturation { drive_db: 0.0, hardness_percent: 0.0 });
    let latency = settings.latency(RATE);
    let sound: Vec<Frame> = (0..8000).map(|n| [0.001 * (f64::from(n) * 0.05).sin(); 2]).collect();
    let out = run(&mut Slot::new(&plan(settings), 128, RATE), &sound, None, 128);
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
    let out = run(&mut Slot::new(&plan(settings.clone()), 128, RATE), &music(24_000), None, 128);
    let most = out.as_flattened().iter().fold(0.0, |m: f64, x| m.max(x.abs()));
    assert!((-6.5..-4.8).contains(&gain_to_db(most)), "{}", gain_to_db(most));
    // A steady level is held exactly.
    let steady = run(&mut Slot::new(&plan(settings), 128, RATE), &[[2.0, -2.0]; 4000], None, 128);
    let expected = if hardness_percent == 100.0 { db_to_gain(-6.0) } else { steady[3000][0] };
    assert!((steady[3999][0] - expected).abs() < 1e-9 && steady[3999][0] <= db_to_gain(-6.0) + 1e-9);
}

/// A decaying hit after silence, and again 400 ms later.
fn hits(level_dbfs: f64) -> Vec<Frame> {
    let a = db_to_gain(level_dbfs);
    let hit = |n: usize| a * (-((n % 19_200) as f64) / 3000.0).exp() * (n as f64 * 0.21).cos();
    (0..38_400).map(|n| [hit(n); 2]).collect()
}

#[test]
fn soft_hits_are_shaped_as_loud_ones() {
    let shaped = |level: f64| {
        let settings = Transient { attack_db: 8.0, sustain_db: -14.0, ..Transient::default() };
        run(&mut Slot::new(&plan(Settings::Transient(settings)), 128, RATE), &hits(level), None, 128)
    };
    let (loud, soft) = (shaped(0.0), shaped(-30.0));
    for n in (0..38_400).filter(|n| loud[*n][0].abs() > 1e-3) {
        let apart = gain_to_db(loud[n][0] / soft[n][0]) - 30.0;
        assert!(apart.abs() < 0.1, "{apart} dB at {n}");
    }
}

#[test]
fn attack_raises_the_beginning_and_sustain_the_ringing() {
    let shaped = |attack_db: f64, sustain_db: f64| {
        let settings = Transient { attack_db, sustain_db, ..Transient::default() };
        run(&mut Slot::new(&plan(Settings::Transient(settings)), 128, RATE), &hits(-12.0), None, 128)
    };
    let peak = |sound: &[Frame], from: usize, to: usize| {
        gain_to_db(sound[from..to].iter().fold(0.0, |m: f64, f| m.max(f[0].abs())))
    };
    let plain = hits(-12.0);
    let (begin, ring) = ((19_230, 19_700), (28_000, 33_000));
    let change = |sound: &[Frame], (from, to): (usize, usize)| peak(sound, from, to) - peak(&plain, from, to);
    let up = shaped(9.0, 0.0);
    assert!(change(&up, begin) > 4.0, "{}", change(&up, begin));
    assert!(change(&up, ring).abs() < 1.0, "{}", change(&up, ring));
    let short = shaped(0.0, -18.0);
    assert!(change(&short, begin).abs() < 2.0, "{}", change(&short, begin));
    assert!(change(&short, ring) < -10.0, "{}", change(&short, ring));
}

#[rstest]
#[case(1.0, 3)]
#[case(3.0, 9)]
#[case(4.0, 17)]
fn a_quantiser_has_the_steps_of_its_bits(#[case] bits: f64, #[case] steps: usize) {
    let ramp: Vec<Frame> = (0..20_001).map(|n| [f64::from(n - 10_000) / 10_000.0; 2]).collect();
    let settings = Settings::Crush(Crush { bits, rate_percent: 100.0 });
    let out = run(&mut Slot::new(&plan(settings), 128, RATE), &ramp, None, 128);
    let mut values: Vec<f64> = out.iter().map(|f| f[0]).collect();
    values.dedup();
    assert_eq!(values.len(), steps);
}

#[test]
fn a_held_sample_changes_at_the_rate_asked() {
    let ramp: Vec<Frame> = (0..8000).map(|n| [f64::from(n) / 10_000.0, -f64::from(n) / 10_000.0]).collect();
    let settings = Settings::Crush(Crush { bits: 24.0, rate_percent: 25.0 });
    let out = run(&mut Slot::new(&plan(settings), 128, RATE), &ramp, None, 128);
    let changes = out.windows(2).filter(|w| w[0] != w[1]).count();
    assert_eq!(changes, 1999);
    assert!(out.iter().all(|f| f[0] + f[1] == 0.0), "both sides are held at once");
}

fn equaliser(band: Band) -> Equaliser {
    Equaliser { bands: vec![band] }
}

/// The analogue models, written out in s anew.
fn analogue_db(band: &Band, hz: f64) -> f64 {
    let (w, a, q) = (hz / band.freq_hz, 10_f64.powf(band.gain_db / 40.0), band.q);
    let root = a.sqrt();
    // Numerator and denominator as (s², s, 1).
    let (n, d) = match band.shape {
        Shape::Bell => ([1.0, a / q, 1.0], [1.0, 1.0 / (a * q), 1.0]),
        Shape::LowShelf => ([a, a * root / q, a * a], [a, root / q, 1.0]),
        Shape::HighShelf => ([a * a, a * root / q, a], [1.0, root / q, a]),
        Shape::LowPass => ([0.0, 0.0, 1.0], [1.0, 1.0 / q, 1.0]),
        Shape::HighPass => ([1.0, 0.0, 0.0], [1.0, 1.0 / q, 1.0]),
        Shape::Notch => ([1.0, 0.0, 1.0], [1.0, 1.0 / q, 1.0]),
    };
    let magnitude = |c: [f64; 3]| ((c[2] - c[0] * w * w).powi(2) + (c[1] * w).powi(2)).sqrt();
    gain_to_db(magnitude(n) / magnitude(d))
}

#[rstest]
fn bells_and_shelves_are_as_the_analogue_ones(
    #[values(Shape::Bell, Shape::LowShelf, Shape::HighShelf)] shape: Shape,
    #[values(40.0, 300.0, 2000.0, 8000.0, 14_000.0)] freq_hz: f64,
    #[values(-12.0, -4.0, 6.0, 12.0)] gain_db: f64,
    #[values(0.5, 0.71, 2.5)] q: f64,
) {
    // A shelf with a higher Q has a bump of its own.
    let q = if shape == Shape::Bell { q } else { q.min(1.0) };
    let band = Band { shape, freq_hz, gain_db, q, ..Band::default() };
    let freqs: Vec<f64> = (0..200).map(|k| 20.0 * 800_f64.powf(f64::from(k) / 199.0)).collect();
    let found = equaliser(band.clone()).response_db(&freqs, RATE);
    let off = |(hz, db): (&f64, f64)| (db - analogue_db(&band, *hz)).abs();
    let worst = freqs.iter().zip(found).map(off).fold(0.0, f64::max);
    assert!(worst < 0.5, "{worst} dB off");
}

#[rstest]
#[case::gentle(Slope::Db6, 6.0)]
#[case::usual(Slope::Db12, 12.0)]
#[case::odd(Slope::Db18, 18.0)]
#[case::steep(Slope::Db24, 24.0)]
#[case::steeper(Slope::Db36, 36.0)]
#[case::steepest(Slope::Db48, 48.0)]
fn passes_fall_by_their_slope(#[case] slope: Slope, #[case] per_octave: f64) {
    for (shape, corner, far, farther) in
        [(Shape::HighPass, 800.0, 200.0, 100.0), (Shape::LowPass, 200.0, 800.0, 1600.0)]
    {
        let band = Band { shape, slope, freq_hz: corner, q: std::f64::consts::FRAC_1_SQRT_2, ..Band::default() };
        let db = equaliser(band).response_db(&[corner, far, farther], RATE);
        assert!((db[0] + 3.01).abs() < 0.1, "{shape:?} {} at its corner", db[0]);
        assert!((db[1] - db[2] - per_octave).abs() < 0.5, "{shape:?} {} an octave", db[1] - db[2]);
    }
}

#[test]
fn the_curve_on_the_screen_is_what_a_sine_meets() {
    let settings = busy(6);
    let Settings::Equaliser(equaliser) = settings.clone() else { unreachable!() };
    let freqs = [50.0, 200.0, 1000.0, 3000.0, 9000.0, 16_000.0];
    for (hz, db) in freqs.iter().zip(equaliser.response_db(&freqs, RATE)) {
        let found = gain_to_db(amplitude(&settled(settings.clone(), *hz, -20.0), *hz as usize)) + 20.0;
        assert!((found - db).abs() < 0.01, "{found} dB at {hz} Hz, drawn as {db}");
    }
}

#[test]
fn bands_at_rest_or_switched_off_are_transparent() {
    let rest = [Shape::Bell, Shape::LowShelf, Shape::HighShelf].map(|shape| Band { shape, ..Band::default() });
    let off = Band { shape: Shape::HighPass, switch: Switch::Off, ..Band::default() };
    let settings = Settings::Equaliser(Equaliser { bands: rest.into_iter().chain([off]).collect() });
    let sound = music(4000);
    assert_eq!(run(&mut Slot::new(&plan(settings), 128, RATE), &sound, None, 128), sound);
}

#[test]
fn a_notch_takes_its_frequency_out() {
    let band = Band { shape: Shape::Notch, freq_hz: 1000.0, q: 4.0, ..Band::default() };
    let db = equaliser(band).response_db(&[500.0, 1000.0, 2000.0], RATE);
    assert!(db[1] < -80.0 && db[0].abs() < 0.5 && db[2].abs() < 0.5, "{db:?}");
}
