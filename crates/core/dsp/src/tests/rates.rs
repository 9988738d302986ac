//! The figures of processors at every rate of a session.

use super::*;
use crate::delay::NoteValue;
use lane_units::SAMPLE_RATES;

fn through(settings: Settings, sound: &[Frame], rate: u32) -> Vec<Frame> {
    run(&mut slot_of(&plan(settings), 128, rate), sound, None, 128)
}

fn tone(hz: f64, level_dbfs: f64, rate: u32, seconds: f64) -> Vec<Frame> {
    let a = db_to_gain(level_dbfs);
    let turn = std::f64::consts::TAU * hz / f64::from(rate);
    (0..(seconds * f64::from(rate)) as usize).map(|n| [a * (n as f64 * turn).sin(); 2]).collect()
}

/// A level that every sample has, its sign in turn.
fn steady(level_dbfs: f64, frames: usize) -> Vec<Frame> {
    let a = db_to_gain(level_dbfs);
    (0..frames).map(|n| if n / 24 % 2 == 0 { [a, a] } else { [-a, -a] }).collect()
}

/// The amplitude of a sine in a sound by least squares, in dB.
fn fitted_db(sound: &[Frame], hz: f64, rate: u32) -> f64 {
    let turn = std::f64::consts::TAU * hz / f64::from(rate);
    let [mut ss, mut cc, mut sc, mut xs, mut xc] = [0.0; 5];
    for (n, [x, _]) in sound.iter().enumerate() {
        let (s, c) = (n as f64 * turn).sin_cos();
        (ss, cc, sc, xs, xc) = (ss + s * s, cc + c * c, sc + s * c, xs + x * s, xc + x * c);
    }
    let whole = ss * cc - sc * sc;
    let (s, c) = ((xs * cc - xc * sc) / whole, (xc * ss - xs * sc) / whole);
    gain_to_db((s * s + c * c).sqrt())
}

fn every_rate_and_kind(mut test: impl FnMut(u32, Settings)) {
    for rate in SAMPLE_RATES {
        busy_kinds().for_each(|settings| test(rate, settings));
    }
}

#[test]
fn off_nothing_changes_but_the_time() {
    let sound = music(4000);
    every_rate_and_kind(|rate, settings| {
        let (name, latency) = (settings.name(), settings.latency(rate));
        let mut slot = slot_of(&SlotPlan { on: false, ..plan(settings) }, 128, rate);
        let out = run(&mut slot, &sound, None, 128);
        assert_eq!(out[latency..], sound[..4000 - latency], "{name} at {rate} Hz");
    });
}

#[test]
fn block_sizes_make_no_difference_at_any_rate() {
    let (sound, key) = (music(6000), square(-12.0, 6000));
    every_rate_and_kind(|rate, settings| {
        let name = settings.name();
        let setting = SlotPlan { input_db: 1.5, mix_percent: 70.0, ..plan(settings) };
        let expected = run(&mut slot_of(&setting, 128, rate), &sound, Some(&key), 128);
        for block in [1, 480, 4096] {
            let found = run(&mut slot_of(&setting, block, rate), &sound, Some(&key), block);
            assert!(found == expected, "{name} at {rate} Hz, blocks of {block}");
        }
    });
}

#[rstest]
fn attack_and_release_take_as_long_as_said_at_any_rate(
    #[values(44_100, 48_000, 88_200, 96_000)] rate: u32,
    #[values(5.0, 40.0)] ms: f64,
) {
    let hard = Compressor { knee_db: 0.0, threshold_dbfs: -30.0, ..Compressor::default() };
    let constant = |settings: Compressor, from: f64, to: f64| {
        let second = rate as usize;
        let sound = [steady(from, second), steady(to, second)].concat();
        let out = through(Settings::Compressor(settings), &sound, rate);
        let reduction = |n: usize| to - gain_to_db(out[second + n][0].abs());
        let (first, last) = (reduction(0), reduction(second - 1));
        let target = first + (last - first) * (1.0 - (-1.0_f64).exp());
        (0..second).find(|n| (reduction(*n) - target) * (last - first).signum() >= 0.0).unwrap() as f64
    };
    let frames = ms / 1000.0 * f64::from(rate);
    let attack = constant(Compressor { attack_ms: ms, ..hard.clone() }, -40.0, 0.0);
    assert!((attack / frames - 1.0).abs() < 0.02 + 1.0 / frames, "attack {attack} of {frames}");
    let release = constant(Compressor { attack_ms: 0.02, release_ms: ms, ..hard }, 0.0, -40.0);
    assert!((release / frames - 1.0).abs() < 0.02 + 2.0 / frames, "release {release} of {frames}");
}

#[rstest]
fn an_equaliser_is_as_the_analogue_one_at_any_rate(
    #[values(44_100, 48_000, 88_200, 96_000)] rate: u32,
    #[values(Shape::Bell, Shape::LowShelf, Shape::HighShelf)] shape: Shape,
    #[values(60.0, 1200.0, 9000.0)] freq_hz: f64,
    #[values(-9.0, 9.0)] gain_db: f64,
) {
    let band = Band { shape, freq_hz, gain_db, q: 0.9, ..Band::default() };
    let settings = Equaliser { bands: vec![band.clone()] };
    // Two thirds of half the rate: 16 kHz at 48 kHz.
    let top = f64::from(rate) / 3.0;
    let freqs: Vec<f64> = (0..120).map(|k| 20.0 * (top / 20.0).powf(f64::from(k) / 119.0)).collect();
    let drawn = settings.response_db(&freqs, rate);
    let worst = freqs.iter().zip(&drawn).map(|(hz, db)| (db - super::equaliser::analogue_db(&band, *hz)).abs());
    let worst = worst.fold(0.0, f64::max);
    assert!(worst < 0.5, "{worst} dB off the analogue curve");
    for at in [10, 60, 110] {
        let (hz, drawn) = (freqs[at], drawn[at]);
        let out = through(Settings::Equaliser(settings.clone()), &tone(hz, -20.0, rate, 1.0), rate);
        let found = fitted_db(&out[rate as usize / 2..], hz, rate) + 20.0;
        assert!((found - drawn).abs() < 0.01, "{found} dB at {hz} Hz, drawn as {drawn}");
    }
}

#[rstest]
fn a_limiter_keeps_its_ceiling_at_any_rate(
    #[values(44_100, 88_200, 96_000)] rate: u32,
    #[values(1.0, 5.0)] lookahead_ms: f64,
) {
    let mut sound = tone(f64::from(rate) / 4.0, 6.0, rate, 0.5);
    sound.extend(tone(90.0, 3.0, rate, 0.5));
    sound.extend(music(rate as usize / 2).iter().map(|f| f.map(|x| 6.0 * x)));
    let settings = Limiter { ceiling_dbtp: -3.0, lookahead_ms, ..Limiter::default() };
    let out = through(Settings::Limiter(settings), &sound, rate);
    let mut meter = ebur128::EbuR128::new(2, rate, ebur128::Mode::TRUE_PEAK).unwrap();
    meter.add_frames_f64(out.as_flattened()).unwrap();
    let peak = gain_to_db(meter.true_peak(0).unwrap().max(meter.true_peak(1).unwrap()));
    assert!((-4.0..-2.9).contains(&peak), "{peak} dBTP");
}

#[rstest]
#[case::soft(0.0, 80.0)]
#[case::hard(100.0, 60.0)]
fn what_folds_back_stays_under_the_fundamental_at_any_rate(#[case] hardness_percent: f64, #[case] under_db: f64) {
    for rate in [44_100, 88_200, 96_000] {
        let settings = Settings::Saturation(Saturation { drive_db: 12.0, hardness_percent });
        let sound = tone(5000.0, 0.0, rate, 1.25);
        let out = &through(settings, &sound, rate)[rate as usize / 4..];
        let fundamental = fitted_db(out, 5000.0, rate);
        // Harmonics that fold lie on whole multiples of what the rate and 5 kHz share.
        let step = if rate % 1000 == 0 { 1000.0 } else { 100.0 };
        let lines = (1..).map(|k| f64::from(k) * step).take_while(|hz| *hz < 20_000.0);
        let worst = lines.filter(|hz| hz % 5000.0 != 0.0).map(|hz| fitted_db(out, hz, rate)).fold(-200.0, f64::max);
        assert!(fundamental - worst > under_db, "{} dB at {rate} Hz", fundamental - worst);
    }
}

#[rstest]
fn echoes_fall_on_the_sample_at_any_rate(#[values(44_100, 48_000, 88_200, 96_000)] rate: u32) {
    let settings = Delay { note: NoteValue::EighthTriplet, feedback_percent: 50.0, ..Delay::default() };
    let frames = settings.frames(Place { sample_rate: rate, tempo_bpm: 97.3, bar_quarters: 4.0 });
    let exact = 60.0 / 97.3 / 3.0 * f64::from(rate);
    assert!((frames as f64 - exact).abs() <= 0.5);
    let mut sound = vec![[0.0; 2]; 2 * frames + 2];
    sound[0] = [1.0; 2];
    let mut slot = slot_of(&SlotPlan { tempo_bpm: 97.3, ..plan(Settings::Delay(settings)) }, 128, rate);
    let out = run(&mut slot, &sound, None, 128);
    let heard: Vec<usize> = (0..out.len()).filter(|n| out[*n][0] != 0.0).collect();
    assert_eq!(heard, [frames, 2 * frames]);
}

#[rstest]
fn a_transient_shaper_treats_soft_hits_as_loud_ones_at_any_rate(#[values(44_100, 88_200, 96_000)] rate: u32) {
    let length = rate as usize / 2;
    let hit = |n: usize| (-((n % length) as f64) / (0.06 * f64::from(rate))).exp() * (n as f64 * 0.1).cos();
    let shaped = |level: f64| {
        let sound: Vec<Frame> = (0..2 * length).map(|n| [level * hit(n); 2]).collect();
        let settings = Transient { attack_db: 8.0, sustain_db: -14.0, ..Transient::default() };
        through(Settings::Transient(settings), &sound, rate)
    };
    let (loud, soft) = (shaped(1.0), shaped(db_to_gain(-30.0)));
    for n in (0..2 * length).filter(|n| loud[*n][0].abs() > 1e-3) {
        let apart = gain_to_db(loud[n][0] / soft[n][0]) - 30.0;
        assert!(apart.abs() < 0.1, "{apart} dB at {n}");
    }
}

#[rstest]
fn a_corner_over_half_the_rate_is_held_under_it(#[values(44_100, 48_000, 88_200, 96_000)] rate: u32) {
    let open = |shape| {
        let band = Band { shape, freq_hz: 22_000.0, gain_db: 12.0, ..Band::default() };
        let freqs = [100.0, 1000.0, 10_000.0];
        Equaliser { bands: vec![band] }.response_db(&freqs, rate)
    };
    for shape in [Shape::LowPass, Shape::HighPass, Shape::Bell, Shape::HighShelf, Shape::Notch] {
        assert!(open(shape).iter().all(|db| db.is_finite()), "{shape:?}");
    }
    assert!(open(Shape::LowPass)[1].abs() < 0.1, "what lies far under it passes");
}
