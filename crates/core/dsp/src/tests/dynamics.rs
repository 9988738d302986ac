use super::*;
use std::f64::consts::TAU;

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
    let out = run(&mut slot_of(&plan(Settings::Compressor(settings)), 256, RATE), &square(level, 24_000), None, 256);
    let found = level - gain_to_db(out[23_999][0].abs());
    assert!((found - expected).abs() < 0.05, "{found} dB, expected {expected}");
}

/// What is lifted, after its definition: so much of what is missing to the threshold as a downward one takes of what is
/// over it, no more than the range, and none of it under the floor, from which it comes up by 2 dB a dB.
fn expected_lift(level: f64, s: &Compressor) -> f64 {
    let missing = expected_reduction(2.0 * s.threshold_dbfs - level, s.threshold_dbfs, s.ratio, s.knee_db);
    missing.min(s.range_db).min(2.0 * (level - s.floor_dbfs)).max(0.0)
}

fn lifting(ratio: f64, knee_db: f64, range_db: f64) -> Compressor {
    Compressor {
        direction: compressor::Direction::Up,
        threshold_dbfs: -20.0,
        floor_dbfs: -60.0,
        ratio,
        knee_db,
        range_db,
        attack_ms: 1.0,
        release_ms: 20.0,
        ..Compressor::default()
    }
}

#[rstest]
fn what_is_soft_comes_up_over_the_floor(
    #[values(-75.0, -60.0, -57.0, -48.0, -35.0, -24.0, -20.0, -17.0, -3.0)] level: f64,
    #[values(1.5, 3.0, 100.0)] ratio: f64,
    #[values(0.001, 8.0)] knee: f64,
    #[values(6.0, 60.0)] range: f64,
) {
    let settings = lifting(ratio, knee, range);
    let expected = if ratio == 100.0 && knee < 1.0 {
        (-20.0 - level).max(0.0).min(range).min(2.0 * (level + 60.0)).max(0.0)
    } else {
        let finite = Compressor { ratio: if ratio == 100.0 { 1e12 } else { ratio }, ..settings.clone() };
        expected_lift(level, &finite)
    };
    assert!((-settings.reduction_db(level) - expected).abs() < 0.01, "the curve that is drawn");
    let out = run(&mut slot_of(&plan(Settings::Compressor(settings)), 256, RATE), &square(level, 24_000), None, 256);
    let found = gain_to_db(out[23_999][0].abs()) - level;
    assert!((found - expected).abs() < 0.05, "{found} dB, expected {expected}");
}

/// Silence behind a sound stays silence, and it falls asleep; what it lifted is told below 0.
#[test]
fn what_is_lifted_ends_with_the_sound() {
    let mut slot = slot_of(&plan(Settings::Compressor(lifting(4.0, 6.0, 60.0))), 256, RATE);
    run(&mut slot, &square(-40.0, 24_000), None, 256);
    let told = slot.take_reduction_db();
    assert!((told + 15.0).abs() < 0.1, "{told}");
    let after = run(&mut slot, &vec![[0.0; 2]; 48_000], None, 256);
    assert!(after.iter().all(|frame| *frame == [0.0; 2]));
    slot.take_reduction_db();
    assert_eq!(slot.take_reduction_db(), 0.0);
}

#[test]
fn what_lifts_comes_up_by_its_release_and_goes_down_by_its_attack() {
    let base = Compressor { knee_db: 0.0, ..lifting(4.0, 0.0, 60.0) };
    let rise = Compressor { attack_ms: 0.02, release_ms: 30.0, ..base.clone() };
    let frames = time_constant(Settings::Compressor(rise), -20.0, -40.0);
    assert!((frames / (30.0 * 48.0) - 1.0).abs() < 0.03, "{frames}");
    let fall = Compressor { attack_ms: 10.0, release_ms: 1.0, ..base };
    let frames = time_constant(Settings::Compressor(fall), -40.0, -20.0);
    assert!((frames / (10.0 * 48.0) - 1.0).abs() < 0.03, "{frames}");
}

/// Frames until the reduction has gone 63.2 % of its way from one steady level to another.
fn time_constant(settings: Settings, from_dbfs: f64, to_dbfs: f64) -> f64 {
    let mut slot = slot_of(&plan(settings), 256, RATE);
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

/// A release in notes is as long as one of so many ms.
#[rstest]
fn times_in_notes_are_those_of_the_tempo(
    #[values(70.0, 120.0, 174.0)] tempo_bpm: f64,
    #[values("compressor", "gate", "band", "filter")] kind: &str,
    #[values(44_100, 48_000, 96_000)] rate: u32,
) {
    let beat_ms = 60_000.0 / tempo_bpm;
    let (attack_ms, hold_ms, release_ms) = (beat_ms / 16.0, beat_ms / 6.0, beat_ms / 2.0);
    let (attack_in, hold_in, release_in) = (TimeIn::SixtyFourth, TimeIn::SixteenthTriplet, TimeIn::Eighth);
    let [notes, ms] = match kind {
        "gate" => {
            let base = Gate { threshold_dbfs: -20.0, range_db: 30.0, ..Gate::default() };
            let ms = Gate { attack_ms, hold_ms, release_ms, ..base.clone() };
            [Gate { attack_in, hold_in, release_in, ..base }, ms].map(Settings::Gate)
        }
        "compressor" => {
            let base = Compressor { threshold_dbfs: -30.0, ..Compressor::default() };
            let ms = Compressor { attack_ms, hold_ms, release_ms, ..base.clone() };
            [Compressor { attack_in, hold_in, release_in, ..base }, ms].map(Settings::Compressor)
        }
        "band" => {
            let base = Band { freq_hz: 700.0, range_db: -12.0, ..Band::default() };
            let ms = Band { attack_ms, release_ms, ..base.clone() };
            let notes = Band { attack_in, release_in, ..base };
            [notes, ms].map(|band| Settings::Equaliser(Equaliser { bands: vec![band] }))
        }
        _ => {
            let base = EnvelopeFilter { amount_oct: 3.0, ..EnvelopeFilter::default() };
            let ms = EnvelopeFilter { attack_ms, release_ms, ..base.clone() };
            [EnvelopeFilter { attack_in, release_in, ..base }, ms].map(Settings::EnvelopeFilter)
        }
    };
    let sound = [square(-6.0, 12_000), square(-50.0, 36_000)].concat();
    let heard = |settings: &Settings| {
        let plan = SlotPlan { tempo_bpm, ..plan(settings.clone()) };
        run(&mut slot_of(&plan, 256, rate), &sound, None, 256)
    };
    let off = heard(&notes).iter().zip(heard(&ms)).fold(0.0, |most: f64, (a, b)| most.max((a[0] - b[0]).abs()));
    assert!(off < 1e-9, "{off}");
    let follows = |s: &Settings| !SlotPlan { tempo_bpm, ..plan(s.clone()) }.does_as(&plan(s.clone()));
    assert_eq!(follows(&notes), tempo_bpm != 120.0);
    assert!(!follows(&ms));
}

#[test]
fn a_key_works_instead_of_the_sound_itself() {
    let settings =
        Settings::Compressor(Compressor { threshold_dbfs: -30.0, ratio: 100.0, knee_db: 0.0, ..Compressor::default() });
    let sound = square(-10.0, 24_000);
    let last = |key: &[Frame]| run(&mut slot_of(&plan(settings.clone()), 128, RATE), &sound, Some(key), 128)[23_999][0];
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
    let out = run(&mut slot_of(&plan(Settings::Compressor(settings)), 128, RATE), &sound, None, 128);
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
    let out = run(&mut slot_of(&plan(settings), 128, RATE), &square(level, 96_000), None, 128);
    let found = level - gain_to_db(out[95_999][0].abs());
    assert!((found - expected).abs() < 0.05, "{found}");
}

#[test]
fn an_open_gate_stays_open_within_its_hysteresis() {
    let settings = Settings::Gate(Gate { threshold_dbfs: -30.0, hysteresis_db: 6.0, hold_ms: 0.0, ..Gate::default() });
    let mut slot = slot_of(&plan(settings), 128, RATE);
    let level = |slot: &mut Slot, db: f64| gain_to_db(run(slot, &square(db, 48_000), None, 128)[47_999][0].abs());
    assert!(level(&mut slot, -34.0) < -100.0, "shut at first");
    assert!((level(&mut slot, -20.0) + 20.0).abs() < 0.01);
    assert!((level(&mut slot, -34.0) + 34.0).abs() < 0.01, "still open");
    assert!(level(&mut slot, -37.0) < -100.0);
}

#[test]
fn the_read_out_says_the_most_that_was_taken_away() {
    let settings = Settings::Compressor(Compressor { threshold_dbfs: -20.0, knee_db: 0.0, ..Compressor::default() });
    let mut slot = slot_of(&plan(settings), 128, RATE);
    run(&mut slot, &square(0.0, 48_000), None, 128);
    assert!((slot.take_reduction_db() - 15.0).abs() < 0.01);
    run(&mut slot, &square(-60.0, 96_000), None, 128);
    assert!(slot.take_reduction_db() > 14.9, "what was left at the last reading");
    assert!(slot.take_reduction_db() < 0.01);
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
        run(&mut slot_of(&plan(Settings::Transient(settings)), 128, RATE), &hits(level), None, 128)
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
        run(&mut slot_of(&plan(Settings::Transient(settings)), 128, RATE), &hits(-12.0), None, 128)
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

/// A hit of 5 s at full scale that falls by 40 dB in a time: a tone, or noise.
fn falling(hz: Option<f64>, fall_s: f64, rate: u32) -> Vec<Frame> {
    let mut dice = lane_units::Dice::new(&[23]);
    let level = |n: f64| (-n / f64::from(rate) / fall_s * 100f64.ln()).exp();
    (0..5 * rate)
        .map(|n| {
            let n = f64::from(n);
            let sound = hz.map_or_else(|| dice.spread(), |hz| (n / f64::from(rate) * hz * TAU).sin());
            [level(n) * sound; 2]
        })
        .collect()
}

#[rstest]
fn every_hit_begins_like_the_first(
    #[values(Some(55.0), Some(1000.0), None)] hz: Option<f64>,
    #[values((0.18, 0.2), (0.18, 1.0), (0.45, 0.5), (0.9, 5.0))] (fall_s, apart_s): (f64, f64),
    #[values((18.0, 0.0), (9.0, -24.0), (-18.0, 24.0), (0.0, -18.0))] (attack_db, sustain_db): (f64, f64),
    #[values(2.0, 15.0, 80.0)] speed_ms: f64,
    #[values(20.0, 1000.0)] ring_ms: f64,
    #[values(44_100, 96_000)] rate: u32,
) {
    let settings = Settings::Transient(Transient { attack_db, sustain_db, speed_ms, ring_ms });
    let one = falling(hz, fall_s, rate);
    let apart = (apart_s * f64::from(rate)) as usize;
    let sound: Vec<Frame> = one[..apart].iter().chain(&one[..apart]).copied().collect();
    let shaped = run(&mut slot_of(&plan(settings), 128, rate), &sound, None, 128);
    for n in (0..rate as usize / 50).filter(|n| sound[*n][0].abs() > 0.04) {
        let differs = gain_to_db(shaped[apart + n][0] / shaped[n][0]);
        assert!(differs.abs() < 0.1, "{differs} dB after {n} frames");
    }
}

#[rstest]
fn what_attack_adds_is_back_after_three_times_its_speed(
    #[values(-18.0, 9.0, 18.0)] attack_db: f64,
    #[values(2.0, 15.0, 80.0)] speed_ms: f64,
    #[values(40.0, 55.0, 200.0, 1000.0)] hz: f64,
    #[values(0.2, 10.0)] fall_s: f64,
    #[values(44_100, 96_000)] rate: u32,
) {
    let settings = Settings::Transient(Transient { attack_db, speed_ms, ..Transient::default() });
    let sound = falling(Some(hz), fall_s, rate);
    let shaped = run(&mut slot_of(&plan(settings), 128, rate), &sound, None, 128);
    // A tone has begun with its first peak.
    let from = ((3.0 * speed_ms / 1000.0 + 0.25 / hz) * f64::from(rate)) as usize;
    for n in (from..from + rate as usize / 3).filter(|n| sound[*n][0].abs() > 1e-3) {
        let left = gain_to_db(shaped[n][0] / sound[n][0]);
        assert!(left.abs() < 1.0, "{left} dB after {n} frames");
    }
}

/// Loud noise, hits, and a tone whose peaks lie between samples.
fn hot() -> Vec<Frame> {
    let mut dice = lane_units::Dice::new(&[11]);
    let between = |n: usize| 1.4 * (std::f64::consts::FRAC_PI_2 * n as f64 + std::f64::consts::FRAC_PI_4).sin();
    (0..96_000)
        .map(|n| match n / 24_000 {
            0 => [2.0 * dice.spread(), 2.0 * dice.spread()],
            1 => [between(n), -between(n)],
            2 => [4.0 * (-((n % 6000) as f64) / 900.0).exp() * (n as f64 * 0.4).cos(); 2],
            _ => [3.0 * (n as f64 * 0.9).sin() * (n as f64 * 0.003).sin(), 0.0],
        })
        .collect()
}

#[rstest]
fn a_limiter_keeps_its_ceiling_in_an_independent_meter(
    #[values(-1.0, -12.0)] ceiling_dbtp: f64,
    #[values(1.0, 200.0)] release_ms: f64,
    #[values(1.0, 2.0)] lookahead_ms: f64,
) {
    let settings = Limiter { ceiling_dbtp, release_ms, lookahead_ms };
    let out = run(&mut slot_of(&plan(Settings::Limiter(settings)), 128, RATE), &hot(), None, 128);
    let mut meter = ebur128::EbuR128::new(2, RATE, ebur128::Mode::TRUE_PEAK).unwrap();
    meter.add_frames_f64(out.as_flattened()).unwrap();
    let peak = gain_to_db(meter.true_peak(0).unwrap().max(meter.true_peak(1).unwrap()));
    assert!(peak < ceiling_dbtp + 0.1, "{peak} dBTP");
    // That meter's filter is short and loses some of the top, of which this noise is full.
    assert!(peak > ceiling_dbtp - 1.5, "{peak} dBTP is lower than it had to be");
}

/// A sound at so many times the rate, by a transform of all of it, without what lies over a frequency in Hz.
fn finer(sound: &[Frame], times: usize, top_hz: usize) -> Vec<Frame> {
    use rustfft::num_complex::Complex;
    let (count, kept) = (sound.len(), sound.len() * top_hz / RATE as usize);
    let mut planner = rustfft::FftPlannerScalar::new();
    // Both sides at once: one real, one imaginary.
    let mut spectrum: Vec<Complex<f64>> = sound.iter().map(|[l, r]| Complex::new(*l, *r)).collect();
    planner.plan_fft_forward(count).process(&mut spectrum);
    let mut fine = vec![Complex::new(0.0, 0.0); times * count];
    fine[..kept].copy_from_slice(&spectrum[..kept]);
    fine[times * count - kept..].copy_from_slice(&spectrum[count - kept..]);
    planner.plan_fft_inverse(times * count).process(&mut fine);
    fine.iter().map(|c| [c.re / count as f64, c.im / count as f64]).collect()
}

/// Noise up to the top of the band in bursts, held to coarse steps: what lies between its samples is as high as it gets.
fn crushed() -> Vec<Frame> {
    let mut dice = lane_units::Dice::new(&[23]);
    let burst = |n: usize| (-((n % 4000) as f64) / 700.0).exp();
    (0..48_000).map(|n| [(6.0 * burst(n) * dice.spread()).round() / 4.0, 2.0 * burst(n) * dice.spread()]).collect()
}

#[rstest]
fn a_limiter_keeps_its_ceiling_between_the_samples_too(
    #[values(true, false)] noise: bool,
    #[values(-1.0, -14.0)] ceiling_dbtp: f64,
    #[values(1.0, 2.0, 8.0)] lookahead_ms: f64,
) {
    // What can be heard of it; over that, what a converter makes of it is anybody's guess.
    let sound = finer(&if noise { crushed() } else { hot() }, 1, 20_000);
    let settings = Limiter { ceiling_dbtp, lookahead_ms, ..Limiter::default() };
    let mut out = run(&mut slot_of(&plan(Settings::Limiter(settings)), 128, RATE), &sound, None, 128);
    // The transform takes the sound as a circle: its ends must meet.
    let count = out.len();
    for n in 0..2000 {
        let fade = n as f64 / 2000.0;
        out[n] = out[n].map(|x| x * fade);
        out[count - 1 - n] = out[count - 1 - n].map(|x| x * fade);
    }
    let fine = finer(&out, 16, 24_000);
    let peak = gain_to_db(fine.as_flattened().iter().fold(0.0, |m: f64, x| m.max(x.abs())));
    assert!(peak < ceiling_dbtp + 0.1, "{peak} dBTP");
}

#[test]
fn a_limiter_lets_go_and_says_how_much_it_took() {
    let settings = Settings::Limiter(Limiter { ceiling_dbtp: -6.0, release_ms: 20.0, ..Limiter::default() });
    let latency = settings.latency(RATE);
    let mut slot = slot_of(&plan(settings), 128, RATE);
    let tone: Vec<Frame> = (0..48_000).map(|n| [(f64::from(n) * 0.02).sin(); 2]).collect();
    run(&mut slot, &tone, None, 128);
    assert!((slot.take_reduction_db() - 6.15).abs() < 0.01);
    let quiet: Vec<Frame> = music(96_000).iter().map(|f| f.map(|x| 0.1 * x)).collect();
    let out = run(&mut slot, &quiet, None, 128);
    assert_eq!(out[60_000 + latency..], quiet[60_000..96_000 - latency], "transparent again");
    slot.take_reduction_db();
    assert_eq!(slot.take_reduction_db(), 0.0);
}
