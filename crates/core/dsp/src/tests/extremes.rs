//! Values at either end, sounds that are too loud, too soft or no numbers, and what is left when they end.

use super::*;

/// Whatever a document may ask of a kind: every value at its least or its most, by turns that the dice choose.
fn at_the_ends(kind: &Settings, dice: &mut lane_units::Dice) -> Settings {
    let mut json = serde_json::to_value(busy(kind)).unwrap();
    let mut set = |object: &mut serde_json::Value, params: &[Param], choices: &[Choice]| {
        for param in params {
            object[param.name] = if dice.unit() < 0.5 { param.min } else { param.max }.into();
        }
        for choice in choices {
            let at = ((choice.options.len() as f64) * dice.unit()) as usize;
            object[choice.name] = choice.options[at.min(choice.options.len() - 1)].0.into();
        }
    };
    let info =
        Settings::kinds().into_iter().find(|k| json["kind"] == serde_json::to_value(&k.default).unwrap()["kind"]);
    let info = info.unwrap();
    match &info.bands {
        Some(bands) => {
            for band in json["bands"].as_array_mut().unwrap() {
                set(band, &bands.params, &bands.choices);
            }
        }
        None => set(&mut json, &info.params, &info.choices),
    }
    serde_json::from_value(json).unwrap()
}

#[rstest]
fn every_value_at_either_end_gives_numbers(#[values(44_100, 96_000)] rate: u32, #[values(1, 2)] seed: u64) {
    let mut dice = lane_units::Dice::new(&[seed, u64::from(rate)]);
    let sound: Vec<Frame> = music(6000).iter().map(|f| f.map(|x| 16.0 * x)).collect();
    for settings in Settings::all().iter().cycle().take(6 * Settings::all().len()) {
        let settings = at_the_ends(settings, &mut dice);
        let mut slot = slot_of(&plan(settings.clone()), 480, rate);
        let out = run(&mut slot, &sound, Some(&square(0.0, 6000)), 480);
        let most =
            out.as_flattened().iter().fold(0.0, |m: f64, x| if x.is_finite() { m.max(x.abs()) } else { f64::NAN });
        assert!(most < 1e6, "{most} of {settings:?}");
    }
}

#[test]
fn values_that_jump_from_end_to_end_give_numbers() {
    let mut dice = lane_units::Dice::new(&[77]);
    for kind in Settings::all() {
        let mut slot = slot_of(&plan(busy(&kind)), 480, RATE);
        for piece in music(24_000).chunks(480) {
            let settings = at_the_ends(&kind, &mut dice);
            set(&mut slot, &plan(settings.clone()), 512, RATE);
            let mut out = piece.to_vec();
            slot.process(&mut out, None, Silent::NO);
            assert!(out.as_flattened().iter().all(|x| x.abs() < 1e6), "{settings:?}");
        }
    }
}

#[test]
fn after_its_tail_a_processor_is_still() {
    busy_kinds().for_each(is_still_after_its_tail);
}

fn is_still_after_its_tail(settings: Settings) {
    let name = settings.name();
    let setting = plan(settings);
    let mut slot = slot_of(&setting, 480, RATE);
    run(&mut slot, &music(6000), None, 480);
    let tail = setting.tail(RATE) + setting.settings.latency(RATE);
    run(&mut slot, &vec![[0.0; 2]; tail], None, 480);
    let after = run(&mut slot, &vec![[0.0; 2]; 4800], None, 480);
    let left = after.as_flattened().iter().fold(0.0, |m: f64, x| m.max(x.abs()));
    // Makeup may lift what is left.
    assert!(gain_to_db(left) < -90.0, "{name}: {} dB are left after {tail} frames", gain_to_db(left));
    run(&mut slot, &vec![[0.0; 2]; 480_000], None, 480);
    let silent = run(&mut slot, &vec![[0.0; 2]; 480], None, 480);
    assert!(silent.iter().all(|f| *f == [0.0; 2]), "{name}: numbers too small to hear go on");
}

#[rstest]
fn what_is_no_number_is_forgotten_by_a_reset(#[values(f64::NAN, f64::INFINITY, f64::NEG_INFINITY, f64::MAX)] bad: f64) {
    let sound = music(4000);
    for settings in busy_kinds() {
        let name = settings.name();
        let mut slot = slot_of(&plan(settings.clone()), 128, RATE);
        run(&mut slot, &vec![[bad, 0.0]; 300], None, 128);
        slot.reset();
        let fresh = run(&mut slot_of(&plan(settings), 128, RATE), &sound, None, 128);
        assert_eq!(run(&mut slot, &sound, None, 128), fresh, "{name}");
    }
}

/// Settings that pass a soft tone as it is, by a kind that delays.
#[rstest]
#[case::saturation(Settings::Saturation(Saturation { drive_db: 0.0, hardness_percent: 0.0 }))]
#[case::clipper(Settings::Clipper(Clipper { ceiling_dbfs: 0.0, hardness_percent: 100.0 }))]
#[case::limiter(Settings::Limiter(Limiter { lookahead_ms: 4.3, ..Limiter::default() }))]
#[case::compressor(Settings::Compressor(Compressor { ratio: 1.0, lookahead_ms: 7.7, ..Compressor::default() }))]
#[case::gate(Settings::Gate(Gate { range_db: 0.0, lookahead_ms: 3.1, ..Gate::default() }))]
fn a_mix_of_dry_and_processed_never_combs(
    #[case] settings: Settings,
    #[values(70.0, 900.0, 7000.0, 15_000.0)] hz: f64,
) {
    let a = db_to_gain(-50.0);
    let turn = std::f64::consts::TAU * hz / f64::from(RATE);
    let sound: Vec<Frame> = (0..24_000).map(|n| [a * (f64::from(n) * turn).sin(); 2]).collect();
    let half = SlotPlan { mix_percent: 50.0, ..plan(settings) };
    let out = run(&mut slot_of(&half, 128, RATE), &sound, None, 128);
    let power = |s: &[Frame]| s[12_000..].iter().map(|f| f[0] * f[0]).sum::<f64>();
    let db = 10.0 * (power(&out) / power(&sound)).log10();
    assert!(db.abs() < 0.05, "{db} dB at {hz} Hz");
}

#[test]
fn switching_makes_no_step() {
    // Held samples are steps on purpose, and echoes begin where they begin.
    let steps = |s: &Settings| matches!(s, Settings::Crush(_) | Settings::Delay(_) | Settings::Reverb(_));
    busy_kinds().filter(|s| !steps(s)).for_each(switches_without_a_step);
}

fn switches_without_a_step(settings: Settings) {
    let sound: Vec<Frame> = (0..48_000).map(|n| [0.4 * (f64::from(n) * 0.01).sin(); 2]).collect();
    let mut slot = slot_of(&plan(settings.clone()), 480, RATE);
    let (mut last, mut steepest) = (0.0, 0.0_f64);
    for (n, piece) in sound.chunks(480).enumerate() {
        set(&mut slot, &SlotPlan { on: n % 7 > 3, ..plan(settings.clone()) }, 512, RATE);
        let mut out = piece.to_vec();
        slot.process(&mut out, None, Silent::NO);
        for [x, _] in out {
            steepest = steepest.max((x - last).abs());
            last = x;
        }
    }
    // The sine moves by 0.004 a frame, by half as much again where makeup lifts it; what makes up for a level in 5 ms
    // adds as much; a gate opens on its own account.
    let bound = if matches!(settings, Settings::Gate(_)) { 0.05 } else { 0.02 };
    assert!(steepest < bound, "{steepest} of {}", settings.name());
}

#[test]
fn a_mono_sound_stays_mono_but_for_what_widens() {
    let sound: Vec<Frame> = music(6000).iter().map(|f| [f[0]; 2]).collect();
    for settings in busy_kinds().chain(Settings::all()) {
        let name = settings.name();
        let out = run(&mut slot_of(&plan(settings.clone()), 128, RATE), &sound, None, 128);
        assert_eq!(out.iter().any(|[l, r]| l != r), settings.widens(), "{name}");
    }
}
