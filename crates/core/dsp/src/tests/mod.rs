mod curves;
mod duckers;
mod dynamics;
mod equaliser;
mod extremes;
mod pictures;
mod rates;
mod shapes;
mod spaces;

use super::equaliser::{Shape, Slope, Switch};
use super::*;
use lane_units::{Frame, db_to_gain, gain_to_db};
use rstest::rstest;

const RATE: u32 = 48_000;

fn plan(settings: Settings) -> SlotPlan {
    SlotPlan {
        on: true,
        input_db: 0.0,
        output_db: 0.0,
        mix_percent: 100.0,
        tempo_bpm: 120.0,
        bar_quarters: 4.0,
        settings,
    }
}

fn slot_of(plan: &SlotPlan, max_block: usize, sample_rate: u32) -> Slot {
    Slot::new(&plan.course(sample_rate), max_block)
}

/// Sets a slot, or puts another in its place that takes over what it can, as an engine does.
fn set(slot: &mut Slot, plan: &SlotPlan, max_block: usize, sample_rate: u32) {
    let course = plan.course(sample_rate);
    if slot.fits(&course) {
        return slot.set(&course);
    }
    let fresh = Slot::new(&course, max_block);
    let old = std::mem::replace(slot, fresh);
    slot.inherit(old);
}

/// Something between noise and drums, the same each time.
fn music(frames: usize) -> Vec<Frame> {
    let mut dice = lane_units::Dice::new(&[7]);
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
        slot.process(piece, key.map(|k| &k[at..at + piece.len()]), Silent::NO);
    }
    out
}

/// One of each kind that there is, set so that it does something.
fn busy_kinds() -> impl Iterator<Item = Settings> {
    Settings::all().into_iter().map(|kind| busy(&kind))
}

/// Settings of a kind that do something: chosen ones, and for a kind without such every value off its default.
fn busy(kind: &Settings) -> Settings {
    match kind {
        Settings::Compressor(_) => Settings::Compressor(Compressor {
            threshold_dbfs: -30.0,
            attack_ms: 1.0,
            lookahead_ms: 1.0,
            link_percent: 50.0,
            makeup_db: 3.0,
            detect: compressor::Detect::Rms,
            ..Compressor::default()
        }),
        Settings::Gate(_) => {
            Settings::Gate(Gate { threshold_dbfs: -20.0, lookahead_ms: 0.5, ratio: 3.0, ..Gate::default() })
        }
        Settings::Transient(_) => {
            Settings::Transient(Transient { attack_db: 9.0, sustain_db: -12.0, ..Transient::default() })
        }
        Settings::Saturation(_) => Settings::Saturation(Saturation { drive_db: 18.0, hardness_percent: 30.0 }),
        Settings::Clipper(_) => Settings::Clipper(Clipper { ceiling_dbfs: -9.0, hardness_percent: 60.0 }),
        Settings::Crush(_) => Settings::Crush(Crush { bits: 5.5, rate_percent: 30.0 }),
        Settings::Equaliser(_) => Settings::Equaliser(Equaliser {
            bands: vec![
                Band { shape: Shape::HighPass, freq_hz: 60.0, slope: Slope::Db18, ..Band::default() },
                Band { freq_hz: 3000.0, gain_db: 8.0, ..Band::default() },
                Band { shape: Shape::LowShelf, freq_hz: 200.0, gain_db: -6.0, ..Band::default() },
                Band { freq_hz: 400.0, range_db: -9.0, threshold_dbfs: -30.0, ..Band::default() },
            ],
        }),
        Settings::Enhancer(_) => {
            Settings::Enhancer(Enhancer { low_percent: 50.0, high_percent: 50.0, ..Enhancer::default() })
        }
        Settings::Limiter(_) => Settings::Limiter(Limiter { ceiling_dbtp: -12.0, ..Limiter::default() }),
        Settings::EnvelopeFilter(_) => {
            Settings::EnvelopeFilter(EnvelopeFilter { amount_oct: 3.0, q: 4.0, ..EnvelopeFilter::default() })
        }
        Settings::Delay(_) => Settings::Delay(Delay {
            low_cut_hz: 100.0,
            high_cut_hz: 5000.0,
            note: delay::NoteValue::Free,
            time_ms: 40.0,
            ..Delay::default()
        }),
        Settings::Reverb(_) => {
            Settings::Reverb(Reverb { decay_s: 0.5, low_cut_hz: 100.0, predelay_ms: 5.0, ..Reverb::default() })
        }
        Settings::StereoImage(_) => Settings::StereoImage(StereoImage {
            gain_db: 2.0,
            delay_frames: 100.0,
            mono_below_hz: 120.0,
            width_percent: 150.0,
            polarity: stereo_image::Polarities::Left,
        }),
        #[allow(unreachable_patterns, reason = "for a kind that has no settings of its own above yet")]
        other => {
            let mut busy = other.clone();
            for (param, value) in other.values() {
                busy.set(param.name, value + 0.3 * (param.max - value));
            }
            busy
        }
    }
}

#[rstest]
fn off_or_at_no_mix_nothing_changes(#[values(true, false)] on: bool) {
    let sound = music(4000);
    for settings in busy_kinds() {
        let (name, latency) = (settings.name(), settings.latency(RATE));
        let mix_percent = if on { 0.0 } else { 100.0 };
        let mut slot = slot_of(&SlotPlan { on, mix_percent, ..plan(settings) }, 128, RATE);
        let out = run(&mut slot, &sound, None, 128);
        assert_eq!(out[latency..], sound[..4000 - latency], "{name}");
    }
}

#[rstest]
#[case::compressor(Settings::Compressor(Compressor { ratio: 1.0, ..Compressor::default() }))]
#[case::compressor_range(Settings::Compressor(Compressor { range_db: 0.0, threshold_dbfs: -60.0, ..Compressor::default() }))]
#[case::gate(Settings::Gate(Gate { range_db: 0.0, ..Gate::default() }))]
#[case::transient(Settings::Transient(Transient::default()))]
#[case::crush(Settings::Crush(Crush::default()))]
#[case::stereo_image(Settings::StereoImage(StereoImage::default()))]
#[case::enhancer(Settings::Enhancer(Enhancer::default()))]
#[case::limiter(Settings::Limiter(Limiter { ceiling_dbtp: 0.0, ..Limiter::default() }))]
fn neutral_settings_are_transparent(#[case] settings: Settings) {
    let sound = music(4000);
    let latency = settings.latency(RATE);
    let out = run(&mut slot_of(&plan(settings), 128, RATE), &sound, None, 128);
    assert_eq!(out[latency..], sound[..4000 - latency]);
}

#[rstest]
fn block_sizes_make_no_difference(#[values(1, 64, 480, 4096)] block: usize) {
    let (sound, key) = (music(12_000), square(-12.0, 12_000));
    for settings in busy_kinds() {
        let name = settings.name();
        let setting = SlotPlan { input_db: 1.5, output_db: -2.0, mix_percent: 70.0, ..plan(settings) };
        let expected = run(&mut slot_of(&setting, 128, RATE), &sound, Some(&key), 128);
        assert_eq!(run(&mut slot_of(&setting, block, RATE), &sound, Some(&key), block), expected, "{name}");
    }
}

#[test]
fn reset_is_as_good_as_new() {
    let sound = music(9000);
    for settings in busy_kinds() {
        let name = settings.name();
        let mut used = slot_of(&plan(settings.clone()), 128, RATE);
        run(&mut used, &square(-1.0, 5000), None, 128);
        used.reset();
        let fresh = run(&mut slot_of(&plan(settings), 128, RATE), &sound, None, 128);
        assert_eq!(run(&mut used, &sound, None, 128), fresh, "{name}");
    }
}

#[test]
fn changes_on_the_way_neither_click_nor_break() {
    for (seed, kind) in Settings::all().iter().enumerate() {
        changes_neither_click_nor_break(seed as u64, kind);
    }
}

fn changes_neither_click_nor_break(seed: u64, kind: &Settings) {
    let mut dice = lane_units::Dice::new(&[seed + 1]);
    let sound: Vec<Frame> = (0..96_000).map(|n| [0.5 * libm::sin(n as f64 * 0.01); 2]).collect();
    let mut slot = slot_of(&plan(busy(kind)), 480, RATE);
    let (mut last, mut steepest) = ([0.0; 2], 0.0_f64);
    for (n, piece) in sound.chunks(480).enumerate() {
        let unit = |dice: &mut lane_units::Dice| dice.unit();
        let mut settings = busy(kind);
        // Lookahead stays: moving it is another connection, which the engine joins.
        match &mut settings {
            Settings::Compressor(s) => {
                (s.threshold_dbfs, s.ratio) = (-60.0 * unit(&mut dice), 1.0 + 20.0 * unit(&mut dice));
            }
            Settings::Gate(s) => s.threshold_dbfs = -60.0 * unit(&mut dice),
            Settings::BeatShape(s) => s.base.depth_db = 30.0 * unit(&mut dice),
            Settings::Transient(s) => s.attack_db = 18.0 * dice.spread(),
            Settings::Equaliser(s) => {
                (s.bands[1].gain_db, s.bands[0].freq_hz) = (24.0 * dice.spread(), 20.0 + 200.0 * unit(&mut dice));
            }
            Settings::Saturation(s) => s.drive_db = 24.0 * unit(&mut dice),
            Settings::Clipper(s) => s.ceiling_dbfs = -20.0 * unit(&mut dice),
            Settings::Crush(s) => s.rate_percent = 1.0 + 99.0 * unit(&mut dice),
            Settings::Enhancer(s) => s.low_percent = 100.0 * unit(&mut dice),
            Settings::Limiter(s) => s.ceiling_dbtp = -20.0 * unit(&mut dice),
            Settings::EnvelopeFilter(s) => {
                (s.cutoff_hz, s.amount_oct) = (200.0 + 2000.0 * unit(&mut dice), 4.0 * dice.spread());
            }
            Settings::Delay(s) => {
                (s.time_ms, s.feedback_percent) = (1.0 + 99.0 * unit(&mut dice), 60.0 * unit(&mut dice))
            }
            Settings::Reverb(s) => {
                (s.decay_s, s.size_percent) = (0.2 + 4.0 * unit(&mut dice), [80.0, 100.0, 130.0][n % 3]);
            }
            Settings::StereoImage(s) => {
                (s.gain_db, s.delay_frames) = (-20.0 * unit(&mut dice), 200.0 * unit(&mut dice));
            }
        }
        if n % 2 == 0 {
            set(
                &mut slot,
                &SlotPlan { mix_percent: 100.0 * unit(&mut dice), on: n % 3 > 0, ..plan(settings) },
                512,
                RATE,
            );
        }
        let mut out = piece.to_vec();
        slot.process(&mut out, None, Silent::NO);
        for frame in out {
            assert!(frame[0].is_finite() && frame[1].is_finite());
            steepest = steepest.max((frame[0] - last[0]).abs());
            last = frame;
        }
    }
    // The sine itself moves by 0.005 a frame, doubled by makeup; a full step in 5 ms would move by 0.004 more.
    // The gate opens in half a millisecond; a sample that is held makes steps on purpose.
    let bound = match kind {
        Settings::Gate(_) => 0.05,
        Settings::Crush(_) => 1.0,
        _ => 0.03,
    };
    assert!(steepest < bound, "{steepest} of {}", kind.name());
}

#[test]
fn a_stereo_image_delays_to_the_sample_and_keeps_the_mono_sum() {
    let sound = music(4000);
    let with =
        |image: StereoImage| run(&mut slot_of(&plan(Settings::StereoImage(image)), 128, RATE), &sound, None, 128);
    let delayed = with(StereoImage { delay_frames: 37.0, ..StereoImage::default() });
    assert_eq!(delayed[37..], sound[..3963]);
    let wide = with(StereoImage { width_percent: 180.0, mono_below_hz: 200.0, ..StereoImage::default() });
    for (a, b) in wide.iter().zip(&sound) {
        assert!((a[0] + a[1] - b[0] - b[1]).abs() < 1e-12);
    }
    let turned = with(StereoImage { polarity: stereo_image::Polarities::Both, ..StereoImage::default() });
    assert!(turned.iter().zip(&sound).all(|(a, b)| a[0] == -b[0] && a[1] == -b[1]));
}

#[rstest]
fn sides_are_filtered_away_under_a_frequency(
    #[values(40.0, 120.0, 500.0)] mono_below_hz: f64,
    #[values(-2, -1, 0, 1, 2)] octaves: i32,
    #[values(44_100, 48_000, 96_000)] rate: u32,
) {
    let hz = mono_below_hz * 2.0_f64.powi(octaves);
    let side = |n: usize| libm::sin(std::f64::consts::TAU * hz * n as f64 / f64::from(rate));
    let sound: Vec<Frame> = (0..2 * rate as usize).map(|n| [side(n), -side(n)]).collect();
    let settings = Settings::StereoImage(StereoImage { mono_below_hz, ..StereoImage::default() });
    let out = run(&mut slot_of(&plan(settings), 128, rate), &sound, None, 128);
    let power = |sound: &[Frame]| sound[rate as usize..].iter().map(|f| f[0] * f[0]).sum::<f64>();
    let found_db = 10.0 * (power(&out) / power(&sound)).log10();
    // Butterworth's magnitude of the fourth order.
    let expected_db = -10.0 * (1.0 + 2.0_f64.powi(-8 * octaves)).log10();
    assert!((found_db - expected_db).abs() < 0.1, "{found_db} instead of {expected_db} dB");
}

#[rstest]
#[case::of_today("stereo_image")]
#[case::of_before("utility")]
fn a_kind_is_read_by_every_name_it_had(#[case] word: &str) {
    let read: Settings = serde_json::from_value(serde_json::json!({ "kind": word, "mono_below_hz": 120.0 })).unwrap();
    assert_eq!(read, Settings::StereoImage(StereoImage { mono_below_hz: 120.0, ..StereoImage::default() }));
    assert!(read.is_called(word));
    assert!(!read.is_called("reverb"));
}

#[test]
fn every_kind_says_what_it_is() {
    for kind in Settings::kinds() {
        assert_eq!(kind.params.len(), kind.default.values().len());
        for (param, value) in kind.default.values() {
            assert!((param.min..=param.max).contains(&value) && value == param.default, "{}", param.name);
        }
        let json = serde_json::to_value(&kind.default).unwrap();
        assert_eq!(json["kind"], kind.default.word());
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
    settled_as(&plan(settings), hz, level_dbfs)
}

/// The same of a processor with its gains and its mix.
fn settled_as(plan: &SlotPlan, hz: f64, level_dbfs: f64) -> Vec<Frame> {
    let a = db_to_gain(level_dbfs);
    let sound: Vec<Frame> =
        (0..60_000).map(|n| [a * (std::f64::consts::TAU * hz * f64::from(n) / 48_000.0).sin(); 2]).collect();
    run(&mut slot_of(plan, 480, RATE), &sound, None, 480)[12_000..].to_vec()
}
