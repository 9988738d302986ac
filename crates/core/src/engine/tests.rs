use super::*;
use crate::edit::{Edit, NewHits, NewVoice, StripChange, apply};
use crate::session::{AssetRef, Audio, Family, Hit, Hold, Layer, VoiceSource};
use crate::units::AssetId;
use rstest::rstest;
use std::sync::Arc;

const RATE: u32 = 48_000;
/// Frames of a sixteenth at 120 bpm.
const SIXTEENTH: usize = 6000;

fn asset(byte: &str, audio: Audio, bank: &mut AssetBank) -> AssetRef {
    let id = AssetId(byte.repeat(32));
    let asset = AssetRef {
        id: id.clone(),
        name: "a.wav".into(),
        channels: audio.channels(),
        sample_rate: RATE,
        frames: audio.frames() as u32,
    };
    bank.insert(id, Arc::new(audio));
    asset
}

fn click() -> Audio {
    Audio::new(1, vec![1.0]).unwrap()
}

fn sine(hz: f64, frames: usize) -> Audio {
    let sample = |n: usize| (0.5 * libm::sin(std::f64::consts::TAU * hz * n as f64 / f64::from(RATE))) as f32;
    Audio::new(1, (0..frames).map(sample).collect()).unwrap()
}

fn hit(at_ticks: u32) -> Hit {
    Hit::new(at_ticks, 240, 127, 0)
}

/// One voice with a one-shot at 120 bpm, its hits in the first pattern.
fn beat(audio: Audio, hits: Vec<Hit>, hold: Hold, tune_ct: f64) -> (Session, AssetBank) {
    let mut bank = AssetBank::new();
    let mut s = Session::new("Beat", RATE);
    s.header.tempo_bpm = 120.0;
    add_voice(&mut s, &mut bank, "aa", audio, hits, hold, tune_ct);
    (s, bank)
}

fn add_voice(
    s: &mut Session,
    bank: &mut AssetBank,
    byte: &str,
    audio: Audio,
    hits: Vec<Hit>,
    hold: Hold,
    tune_ct: f64,
) {
    let asset = asset(byte, audio, bank);
    let layers = vec![Layer { tune_ct, ..Layer::new(asset.id.clone()) }];
    let pattern = s.patterns[0].id;
    let voice = NewVoice {
        name: format!("Voice {byte}"),
        family: Family::Low,
        source: VoiceSource::OneShot { layers, hold },
        output: None,
        hits: vec![NewHits { pattern, hits }],
    };
    apply(s, &Edit::AddVoices { voices: vec![voice], assets: vec![asset] }).unwrap();
}

/// Several voices, tuned, gated, panned and on a bus, with swing.
fn busy() -> (Session, AssetBank) {
    let mut bank = AssetBank::new();
    let mut s = Session::new("Busy", RATE);
    s.header.tempo_bpm = 133.0;
    s.header.swing.percent = 61.0;
    let sixteenths =
        |n: u32| (0..n).map(|i| Hit { tune_st: (i % 5) as i8, velocity: 60 + i as u8, ..hit(i * 240) }).collect();
    add_voice(&mut s, &mut bank, "aa", sine(60.0, 9000), vec![hit(0), hit(960)], Hold::Whole, 0.0);
    add_voice(&mut s, &mut bank, "bb", sine(440.0, 30_000), sixteenths(31), Hold::Gate { release_ms: 30.0 }, -150.0);
    add_voice(&mut s, &mut bank, "cc", sine(3000.0, 48_000), sixteenths(31), Hold::Whole, 300.0);
    let feeders: Vec<_> = s.voices.iter().map(|v| v.channel).collect();
    apply(&mut s, &Edit::NewBus { name: "Drums".into(), feeders: feeders[..2].to_vec() }).unwrap();
    let pan = Edit::SetStrips { strips: vec![feeders[1]], change: StripChange::PanPercent(-35.0) };
    apply(&mut s, &pan).unwrap();
    (s, bank)
}

fn render(s: &Session, bank: &AssetBank, frames: usize, block: usize) -> Vec<Frame> {
    let mut engine = Engine::new(s, bank, block, Metering::On);
    engine.play();
    let mut out = vec![[0.0; 2]; frames];
    out.chunks_mut(block).for_each(|piece| engine.process(piece));
    out
}

#[test]
fn hits_fall_on_their_samples() {
    let (s, bank) = beat(click(), vec![hit(0), hit(240), hit(960)], Hold::Whole, 0.0);
    let out = render(&s, &bank, 30_000, 128);
    let clicks: Vec<usize> = (0..out.len()).filter(|n| out[*n][0] != 0.0).collect();
    assert_eq!(clicks, [0, SIXTEENTH, 4 * SIXTEENTH]);
    assert_eq!(out[0], [1.0, 1.0]);
}

#[rstest]
#[case(1)]
#[case(64)]
#[case(480)]
#[case(4096)]
fn any_block_size_gives_the_same_bits(#[case] block: usize) {
    let (s, bank) = busy();
    let expected = render(&s, &bank, 40_000, 128);
    let got = render(&s, &bank, 40_000, block);
    let same =
        expected.iter().zip(&got).all(|(a, b)| a[0].to_bits() == b[0].to_bits() && a[1].to_bits() == b[1].to_bits());
    assert!(same);
}

#[test]
fn a_loop_repeats_without_drift() {
    let (s, bank) = beat(click(), vec![hit(0)], Hold::Whole, 0.0);
    let mut engine = Engine::new(&s, &bank, 100, Metering::Off);
    engine.set_loop(Some(LoopRange { from: 0, to: 777 }));
    engine.play();
    let mut out = vec![[0.0; 2]; 777 * 5];
    engine.process(&mut out);
    let clicks: Vec<usize> = (0..out.len()).filter(|n| out[*n][0] != 0.0).collect();
    assert_eq!(clicks, [0, 777, 1554, 2331, 3108]);
}

#[test]
fn a_gate_holds_for_the_hit_and_fades_over_the_release() {
    let held = Hit { length_ticks: 240, ..hit(0) };
    let flat = Audio::new(1, vec![1.0; 48_000]).unwrap();
    let (s, bank) = beat(flat, vec![held], Hold::Gate { release_ms: 10.0 }, 0.0);
    let out = render(&s, &bank, 8000, 128);
    assert_eq!(out[SIXTEENTH - 1][0], 1.0);
    assert!((out[SIXTEENTH + 239][0] - 0.5).abs() < 1e-9);
    assert_eq!(out[SIXTEENTH + 480][0], 0.0);
}

#[test]
fn an_octave_of_tuning_doubles_the_frequency() {
    let (s, bank) = beat(sine(500.0, 24_000), vec![hit(0)], Hold::Whole, 1200.0);
    let out = render(&s, &bank, 11_000, 128);
    let crossings = out[1000..10_600].windows(2).filter(|w| w[0][0] <= 0.0 && w[1][0] > 0.0).count();
    assert_eq!(crossings, 200);
}

#[test]
fn a_fader_step_makes_no_jump_above_a_five_millisecond_ramp() {
    let flat = Audio::new(1, vec![1.0; 48_000]).unwrap();
    let (mut s, bank) = beat(flat, vec![hit(0)], Hold::Whole, 0.0);
    let mut engine = Engine::new(&s, &bank, 128, Metering::Off);
    engine.play();
    let mut out = vec![[0.0; 2]; 2000];
    engine.process(&mut out[..1000]);
    let channel = s.voices[0].channel;
    apply(&mut s, &Edit::SetStrips { strips: vec![channel], change: StripChange::FaderDb(-100.0) }).unwrap();
    engine.update(&s, &bank);
    engine.process(&mut out[1000..]);
    let steepest = out[1..].windows(2).map(|w| (w[1][0] - w[0][0]).abs()).fold(0.0, f64::max);
    assert!(steepest <= 1.0 / 240.0 + 1e-12, "{steepest}");
    assert_eq!(out[1999][0], 0.0);
}

#[test]
fn an_update_without_a_change_changes_no_bit() {
    let (s, bank) = busy();
    let expected = render(&s, &bank, 20_000, 128);
    let mut engine = Engine::new(&s, &bank, 128, Metering::On);
    engine.play();
    let mut got = vec![[0.0; 2]; 20_000];
    for piece in got.chunks_mut(1000) {
        engine.update(&s, &bank);
        engine.process(piece);
    }
    assert_eq!(got, expected);
}

#[test]
fn mute_and_solo_decide_what_main_gets() {
    let (mut s, bank) = busy();
    let solo = s.voices[2].channel;
    apply(&mut s, &Edit::SetStrips { strips: vec![solo], change: StripChange::Solo(true) }).unwrap();
    let soloed = render(&s, &bank, 5000, 128);
    let mut alone = s.clone();
    let others = alone.voices.iter().map(|v| v.id).take(2).collect();
    apply(&mut alone, &Edit::RemoveVoices { voices: others }).unwrap();
    assert_eq!(soloed, render(&alone, &bank, 5000, 128));
    apply(&mut s, &Edit::SetStrips { strips: vec![solo], change: StripChange::Mute(true) }).unwrap();
    assert!(render(&s, &bank, 5000, 128).iter().all(|f| *f == [0.0; 2]));
}

#[test]
fn a_recording_runs_along_from_its_bar_and_can_be_entered() {
    let (mut s, mut bank) = beat(click(), vec![], Hold::Whole, 0.0);
    let ramp = Audio::new(1, (0..50_000).map(|n| n as f32 / 50_000.0).collect()).unwrap();
    let asset = asset("dd", ramp, &mut bank);
    let source = VoiceSource::Recording { asset: asset.id.clone(), start_frame: SIXTEENTH as u32 };
    let voice = s.voices[0].id;
    apply(&mut s, &Edit::SetSource { voice, source, assets: vec![asset] }).unwrap();
    let out = render(&s, &bank, 20_000, 128);
    assert_eq!(out[SIXTEENTH + 1000][0], f64::from(1000.0_f32 / 50_000.0));
    let mut engine = Engine::new(&s, &bank, 128, Metering::Off);
    engine.seek(SIXTEENTH as u64 + 500);
    engine.play();
    let mut entered = vec![[0.0; 2]; 1000];
    engine.process(&mut entered);
    assert_eq!(entered[999], out[SIXTEENTH + 1499]);
}

#[test]
fn taps_stand_before_and_after_the_fader() {
    let (mut s, bank) = beat(click(), vec![hit(0)], Hold::Whole, 0.0);
    let channel = s.voices[0].channel;
    apply(&mut s, &Edit::SetStrips { strips: vec![channel], change: StripChange::FaderDb(-100.0) }).unwrap();
    let mut engine = Engine::new(&s, &bank, 64, Metering::Off);
    engine.play();
    let frames = engine.process_piece(64);
    assert_eq!(engine.tap(channel, Tap::Dry, frames).unwrap()[0], [1.0; 2]);
    assert_eq!(engine.tap(channel, Tap::Channel, frames).unwrap()[0], [0.0; 2]);
    assert!(engine.tap(StripId(77), Tap::Dry, frames).is_none());
}

#[test]
fn meters_read_peak_and_rms_of_a_sine() {
    let (s, bank) = beat(sine(1000.0, 200_000), vec![hit(0)], Hold::Whole, 0.0);
    let mut engine = Engine::new(&s, &bank, 128, Metering::On);
    engine.play();
    engine.process(&mut vec![[0.0; 2]; 150_000]);
    let mut values = vec![0.0; METER_VALUES * engine.strip_order().count()];
    engine.read_meters(&mut values);
    assert!((values[8] - 0.5).abs() < 1e-3, "peak {}", values[8]);
    assert!((values[10] - 0.5 * std::f32::consts::FRAC_1_SQRT_2).abs() < 1e-3, "rms {}", values[10]);
    engine.read_meters(&mut values);
    assert_eq!(values[8], 0.0);
}

#[test]
fn stopping_fades_and_auditioning_sounds_while_stopped() {
    let flat = Audio::new(1, vec![1.0; 48_000]).unwrap();
    let (s, bank) = beat(flat, vec![hit(0)], Hold::Whole, 0.0);
    let mut engine = Engine::new(&s, &bank, 128, Metering::Off);
    let mut out = vec![[0.0; 2]; 600];
    engine.play();
    engine.process(&mut out);
    engine.stop();
    engine.process(&mut out);
    assert_eq!(out[599], [0.0; 2]);
    engine.audition(s.voices[0].id, 0.5, None, 0);
    engine.process(&mut out);
    assert_eq!(out[0], [0.5; 2]);
    assert_eq!(engine.position(), 600);
}
