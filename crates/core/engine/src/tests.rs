use super::*;
use lane_document::edit::{
    AddVoices, DuplicateVoice, Edit, HumaniseHits, NewBus, NewHits, NewVoice, RemoveVoices, SetChoke, SetHits, SetLoop,
    SetSource, SetStrips, SetVoiceLate, SetVoiceSwing, StripChange, apply,
};
use lane_document::session::{AssetBank, Audio, Session};
use lane_document::session::{AssetRef, Family, Hit, Hold, Layer, Tap, VoiceSource};
use lane_units::AssetId;
use lane_units::{Frame, ProcessorId, StripId};
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
    s.header.tempo_bpm = lane_document::session::Tempo::new(120.0).unwrap();
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
        trim_db: 0.0,
        name: format!("Voice {byte}").parse().unwrap(),
        family: Family::Low,
        source: VoiceSource::OneShot { layers, hold },
        output: None,
        hits: vec![NewHits { pattern, hits }],
    };
    apply(s, &Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![asset] })).unwrap();
}

/// Several voices, tuned, gated, panned and on a bus, with swing.
fn busy() -> (Session, AssetBank) {
    let mut bank = AssetBank::new();
    let mut s = Session::new("Busy", RATE);
    s.header.tempo_bpm = lane_document::session::Tempo::new(133.0).unwrap();
    s.header.swing.percent = 61.0;
    let sixteenths =
        |n: u32| (0..n).map(|i| Hit { tune_st: (i % 5) as i8, velocity: 60 + i as u8, ..hit(i * 240) }).collect();
    add_voice(&mut s, &mut bank, "aa", sine(60.0, 9000), vec![hit(0), hit(960)], Hold::Whole, 0.0);
    add_voice(&mut s, &mut bank, "bb", sine(440.0, 30_000), sixteenths(31), Hold::Gate { release_ms: 30.0 }, -150.0);
    add_voice(&mut s, &mut bank, "cc", sine(3000.0, 48_000), sixteenths(31), Hold::Whole, 300.0);
    let feeders: Vec<_> = s.voices.iter().map(|v| v.channel).collect();
    apply(&mut s, &Edit::NewBus(NewBus { name: "Drums".into(), feeders: feeders[..2].to_vec() })).unwrap();
    let pan = Edit::SetStrips(SetStrips { strips: vec![feeders[1]], change: StripChange::PanPercent(-35.0) });
    apply(&mut s, &pan).unwrap();
    (s, bank)
}

/// An engine that follows a session while it plays.
struct Live {
    engine: Engine,
    compiler: Compiler,
}

impl Live {
    fn new(s: &Session, bank: &AssetBank, block: usize, metering: Metering) -> Self {
        let (engine, compiler) = (Engine::empty(s.header.sample_rate, block, metering), Compiler::new());
        let mut live = Live { engine, compiler };
        live.update(s, bank);
        live.engine.finish();
        live
    }

    /// Follows another state of the session, and has its audio.
    fn update(&mut self, s: &Session, bank: &AssetBank) {
        self.engine.take(self.compiler.changes(s));
        for asset in &s.assets {
            if let Some(audio) = bank.get(&asset.id) {
                self.engine.shelve(self.compiler.number(&asset.id), audio.clone());
            }
        }
    }
}

impl std::ops::Deref for Live {
    type Target = Engine;
    fn deref(&self) -> &Engine {
        &self.engine
    }
}

impl std::ops::DerefMut for Live {
    fn deref_mut(&mut self) -> &mut Engine {
        &mut self.engine
    }
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
fn a_position_never_stands_at_the_end_of_its_loop() {
    let (s, bank) = beat(click(), vec![hit(0)], Hold::Whole, 0.0);
    let mut engine = Engine::new(&s, &bank, 100, Metering::Off);
    engine.set_loop(Some(LoopRange { from: 200, to: 500 }));
    engine.seek(200);
    engine.play();
    let positions: Vec<u64> = (0..6)
        .map(|_| {
            engine.process(&mut [[0.0; 2]; 100]);
            engine.position()
        })
        .collect();
    assert_eq!(positions, [300, 400, 200, 300, 400, 200]);
}

#[test]
fn an_engine_that_takes_over_goes_on_where_the_other_was_asked_to() {
    let (s, bank) = beat(click(), vec![hit(0)], Hold::Whole, 0.0);
    let mut first = Engine::empty(48_000, 100, Metering::Off);
    first.set_loop(Some(LoopRange { from: 700, to: 1477 }));
    first.seek(1000);
    first.play();
    let mut engine = Engine::new(&s, &bank, 100, Metering::Off);
    engine.go_on_like(&first);
    assert!(engine.is_playing());
    let mut out = vec![[0.0; 2]; 1000];
    engine.process(&mut out);
    assert_eq!(engine.position(), 1223);
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
    let mut engine = Live::new(&s, &bank, 128, Metering::Off);
    engine.play();
    let mut out = vec![[0.0; 2]; 2000];
    engine.process(&mut out[..1000]);
    let channel = s.voices[0].channel;
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![channel], change: StripChange::FaderDb(-100.0) })).unwrap();
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
    let mut engine = Live::new(&s, &bank, 128, Metering::On);
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
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![solo], change: StripChange::Solo(true) })).unwrap();
    let soloed = render(&s, &bank, 5000, 128);
    let mut alone = s.clone();
    let others = alone.voices.iter().map(|v| v.id).take(2).collect();
    apply(&mut alone, &Edit::RemoveVoices(RemoveVoices { voices: others })).unwrap();
    assert_eq!(soloed, render(&alone, &bank, 5000, 128));
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![solo], change: StripChange::Mute(true) })).unwrap();
    assert!(render(&s, &bank, 5000, 128).iter().all(|f| *f == [0.0; 2]));
}

#[test]
fn a_recording_runs_along_from_its_bar_and_can_be_entered() {
    let (mut s, mut bank) = beat(click(), vec![], Hold::Whole, 0.0);
    let ramp = Audio::new(1, (0..50_000).map(|n| n as f32 / 50_000.0).collect()).unwrap();
    let asset = asset("dd", ramp, &mut bank);
    let source = VoiceSource::Recording { asset: asset.id.clone(), start_frame: SIXTEENTH as u32 };
    let voice = s.voices[0].id;
    apply(&mut s, &Edit::SetSource(SetSource { voice, source, assets: vec![asset] })).unwrap();
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
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![channel], change: StripChange::FaderDb(-100.0) })).unwrap();
    let mut engine = Engine::new(&s, &bank, 64, Metering::Off);
    engine.keep_dry();
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
    let mut values = vec![0.0; engine.meter_values()];
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

/// The layers of the first voice, changed.
fn with_layers(s: &mut Session, change: impl Fn(&mut Layer)) {
    let VoiceSource::OneShot { mut layers, hold } = s.voices[0].source.clone() else { unreachable!() };
    layers.iter_mut().for_each(change);
    let source = VoiceSource::OneShot { layers, hold };
    let voice = s.voices[0].id;
    apply(s, &Edit::SetSource(SetSource { voice, source, assets: vec![] })).unwrap();
}

#[test]
fn a_hit_of_its_choke_set_ends_a_voice_on_the_sample_and_other_sets_do_not() {
    let flat = || Audio::new(1, vec![0.5; 48_000]).unwrap();
    let mut bank = AssetBank::new();
    let mut s = Session::new("Hats", RATE);
    s.header.tempo_bpm = lane_document::session::Tempo::new(120.0).unwrap();
    add_voice(&mut s, &mut bank, "aa", flat(), vec![hit(0)], Hold::Whole, 0.0);
    add_voice(&mut s, &mut bank, "bb", click(), vec![hit(240)], Hold::Whole, 0.0);
    let [open, closed] = [s.voices[0].id, s.voices[1].id];
    let dry = |s: &Session, bank: &AssetBank, block: usize| {
        let mut engine = Engine::new(s, bank, block, Metering::Off);
        engine.keep_dry();
        engine.play();
        let mut out = Vec::new();
        while out.len() < 8000 {
            let count = engine.process_piece(block);
            out.extend_from_slice(engine.tap(s.voices[0].channel, Tap::Dry, count).unwrap());
        }
        out
    };
    assert_eq!(dry(&s, &bank, 128)[7000][0], 0.5);
    apply(&mut s, &Edit::SetChoke(SetChoke { voices: vec![open, closed], set: Some(1) })).unwrap();
    let choked = dry(&s, &bank, 128);
    assert_eq!(choked[SIXTEENTH - 1][0], 0.5);
    assert!(choked[SIXTEENTH + 100][0] < 0.5);
    assert_eq!(choked[SIXTEENTH + 240][0], 0.0);
    assert!(dry(&s, &bank, 7).iter().zip(&choked).all(|(a, b)| a == b));
    apply(&mut s, &Edit::SetChoke(SetChoke { voices: vec![closed], set: Some(2) })).unwrap();
    assert_eq!(dry(&s, &bank, 128)[7000][0], 0.5);
}

#[test]
fn velocity_moves_the_level_as_far_as_asked() {
    let (mut s, bank) = beat(click(), vec![Hit { velocity: 64, ..hit(0) }], Hold::Whole, 0.0);
    let full = (64.0_f64 / 127.0).powi(2);
    for (percent, expected) in [(100.0, full), (50.0, full.sqrt()), (0.0, 1.0)] {
        with_layers(&mut s, |l| l.velocity_percent = percent);
        assert!((render(&s, &bank, 4, 4)[0][0] - expected).abs() < 1e-12, "{percent} %");
    }
}

#[rstest]
fn a_layer_that_is_late_is_the_same_later(
    #[values(0.0, 0.3, 7.0, 500.0)] delay_ms: f64,
    #[values(0.0, -350.0)] tune_ct: f64,
    #[values(1, 128, 1000)] block: usize,
    #[values(Hold::Whole, Hold::Gate { release_ms: 20.0 })] hold: Hold,
) {
    let (mut s, bank) = beat(sine(300.0, 5000), vec![Hit { length_ticks: 3840, ..hit(0) }, hit(3000)], hold, tune_ct);
    let at_once = render(&s, &bank, 60_000, 128);
    with_layers(&mut s, |l| l.delay_ms = delay_ms);
    let late = render(&s, &bank, 60_000, block);
    let frames = (delay_ms * 48.0).round() as usize;
    // The second hit is cut by its gate, which the delay leaves where it is.
    let until = if hold == Hold::Whole { 60_000 - frames } else { 36_000 };
    assert!(late[..frames].iter().all(|f| *f == [0.0; 2]));
    assert!(late[frames..frames + until] == at_once[..until], "{frames} frames");
}

#[test]
fn a_gate_ends_a_late_layer_with_the_hit_and_a_choke_before_it_begins() {
    let gate = Hold::Gate { release_ms: 5.0 };
    let (mut s, mut bank) = beat(sine(300.0, 48_000), vec![hit(0)], gate, 0.0);
    let last = |s: &Session, bank: &AssetBank| {
        let frames = render(s, bank, 48_000, 128);
        frames.iter().rposition(|f| *f != [0.0; 2])
    };
    let before = last(&s, &bank);
    with_layers(&mut s, |l| l.delay_ms = 60.0);
    assert_eq!(last(&s, &bank), before, "it ends with the hit");
    with_layers(&mut s, |l| l.delay_ms = 400.0);
    let first = s.voices[0].id;
    add_voice(&mut s, &mut bank, "bb", click(), vec![hit(240)], Hold::Whole, 0.0);
    let both = [first, s.voices[1].id];
    s.voices.iter_mut().filter(|v| both.contains(&v.id)).for_each(|v| v.choke_set = Some(1));
    let choked = render(&s, &bank, 48_000, 128);
    assert_eq!(choked.iter().filter(|f| **f != [0.0; 2]).count(), 1, "the click alone");
}

#[test]
fn a_reversed_layer_is_the_sample_backwards() {
    let ramp = Audio::new(1, (0..1000).map(|n| n as f32 / 1000.0).collect()).unwrap();
    let (mut s, bank) = beat(ramp, vec![hit(0)], Hold::Whole, 0.0);
    let forward = render(&s, &bank, 1200, 128);
    with_layers(&mut s, |l| l.reverse = true);
    let backward = render(&s, &bank, 1200, 128);
    assert!((0..1000).all(|n| forward[n] == backward[999 - n]));
    assert_eq!(backward[1000], [0.0; 2]);
}

#[test]
fn a_hit_can_play_one_layer_of_its_voice() {
    let (mut s, bank) = beat(click(), vec![hit(0), Hit { layer: Some(1), ..hit(240) }], Hold::Whole, 0.0);
    let VoiceSource::OneShot { layers, hold } = s.voices[0].source.clone() else { unreachable!() };
    let quiet = Layer { gain_db: -20.0, ..layers[0].clone() };
    let source = VoiceSource::OneShot { layers: vec![layers[0].clone(), quiet], hold };
    let voice = s.voices[0].id;
    apply(&mut s, &Edit::SetSource(SetSource { voice, source, assets: vec![] })).unwrap();
    let out = render(&s, &bank, 7000, 128);
    assert!((out[0][0] - 1.1).abs() < 1e-9);
    assert!((out[SIXTEENTH][0] - 0.1).abs() < 1e-9);
}

#[test]
fn repeats_divide_the_hit_and_follow_their_slope() {
    let rolled = Hit { repeats: 4, slope: -30, length_ticks: 240, ..hit(0) };
    let (s, bank) = beat(click(), vec![rolled], Hold::Whole, 0.0);
    let out = render(&s, &bank, 7000, 128);
    let clicks: Vec<usize> = (0..out.len()).filter(|n| out[*n][0] != 0.0).collect();
    assert_eq!(clicks, [0, 1500, 3000, 4500]);
    let gain = |v: f64| (v / 127.0).powi(2);
    assert!([127.0, 97.0, 67.0, 37.0].iter().zip(&clicks).all(|(v, n)| (out[*n][0] - gain(*v)).abs() < 1e-12));
}

#[test]
fn a_shifted_hit_is_later_by_its_ticks() {
    let (s, bank) = beat(click(), vec![Hit { shift_ticks: 10, ..hit(240) }], Hold::Whole, 0.0);
    let out = render(&s, &bank, 7000, 128);
    assert_eq!(out.iter().position(|f| f[0] != 0.0), Some(SIXTEENTH + 250));
}

#[test]
fn a_loop_of_its_own_runs_through_the_whole_section() {
    let (mut s, bank) = beat(click(), vec![hit(0)], Hold::Whole, 0.0);
    let (pattern, voices) = (s.patterns[0].id, vec![s.voices[0].id]);
    // Three sixteenths against a pattern of two bars, in a section of four.
    apply(&mut s, &Edit::SetLoop(SetLoop { pattern, voices, ticks: Some(720) })).unwrap();
    let out = render(&s, &bank, 64 * SIXTEENTH, 1000);
    let clicks: Vec<usize> = (0..out.len()).filter(|n| out[*n][0] != 0.0).collect();
    assert_eq!(clicks, (0..22).map(|n| n * 3 * SIXTEENTH).collect::<Vec<_>>());
}

#[test]
fn humanising_stays_in_its_bounds_repeats_and_can_be_taken_away() {
    let sixteenths: Vec<Hit> = (1..31).map(|n| hit(n * 240)).collect();
    let (mut s, bank) = beat(click(), sixteenths, Hold::Whole, 0.0);
    let straight = render(&s, &bank, 32 * SIXTEENTH, 128);
    let (pattern, voices) = (s.patterns[0].id, vec![s.voices[0].id]);
    let by = lane_document::session::Humanise { seed: 3, time_ms: 8.0, level_db: 2.0, tune_ct: 0.0 };
    apply(&mut s, &Edit::Humanise(HumaniseHits { pattern, voices: voices.clone(), by: Some(by) })).unwrap();
    let varied = render(&s, &bank, 32 * SIXTEENTH, 128);
    assert_eq!(varied, render(&s, &bank, 32 * SIXTEENTH, 77));
    let clicks: Vec<usize> = (0..varied.len()).filter(|n| varied[*n][0] != 0.0).collect();
    assert_eq!(clicks.len(), 30);
    let off = |n: usize| clicks[n].abs_diff((n + 1) * SIXTEENTH);
    assert!((0..30).all(|n| off(n) <= 385), "8 ms are 384 frames");
    assert!((0..30).any(|n| off(n) > 100));
    assert!(clicks.iter().all(|n| (20.0 * varied[*n][0].log10()).abs() <= 2.0 + 1e-9));
    apply(&mut s, &Edit::Humanise(HumaniseHits { pattern, voices, by: None })).unwrap();
    assert_eq!(render(&s, &bank, 32 * SIXTEENTH, 128), straight);
}

#[test]
fn a_copy_that_follows_plays_what_the_first_lane_plays() {
    let (mut s, bank) = beat(click(), vec![hit(0), hit(480)], Hold::Whole, 0.0);
    let voice = s.voices[0].id;
    let alone = render(&s, &bank, 14_000, 128);
    apply(&mut s, &Edit::DuplicateVoice(DuplicateVoice { voice, with_chain: true, follows: true })).unwrap();
    let both = render(&s, &bank, 14_000, 128);
    assert!(alone.iter().zip(&both).all(|(a, b)| b[0] == 2.0 * a[0]));
    let pattern = s.patterns[0].id;
    apply(&mut s, &Edit::SetHits(SetHits { pattern, voice, hits: vec![hit(240)] })).unwrap();
    let moved = render(&s, &bank, 14_000, 128);
    assert_eq!(moved.iter().position(|f| f[0] != 0.0), Some(SIXTEENTH));
    assert_eq!(moved[SIXTEENTH][0], 2.0);
}

#[test]
fn swing_of_its_own_moves_one_voice_only() {
    let (mut s, bank) = beat(click(), vec![hit(240)], Hold::Whole, 0.0);
    s.header.swing.percent = 60.0;
    let first = |s: &Session| render(s, &bank, 9000, 128).iter().position(|f| f[0] != 0.0);
    assert_eq!(first(&s), Some(SIXTEENTH + 1200));
    let swing = Some(lane_document::session::Swing { percent: 50.0, ..s.header.swing });
    let voices = vec![s.voices[0].id];
    apply(&mut s, &Edit::SetVoiceSwing(SetVoiceSwing { voices, swing })).unwrap();
    assert_eq!(first(&s), Some(SIXTEENTH));
}

/// 8 ms are 384 frames; what would begin before the song begins with it.
#[rstest]
#[case(8.0, 6000 + 384)]
#[case(-8.0, 6000 - 384)]
fn a_voice_plays_as_much_later_as_it_is_told(#[case] late_ms: f64, #[case] expected: usize) {
    let (mut s, bank) = beat(click(), vec![hit(0), hit(240)], Hold::Whole, 0.0);
    let voices = vec![s.voices[0].id];
    apply(&mut s, &Edit::SetVoiceLate(SetVoiceLate { voices: voices.clone(), late_ms })).unwrap();
    let out = render(&s, &bank, 9000, 128);
    assert_eq!(out.iter().rposition(|f| f[0] != 0.0), Some(expected));
    assert_eq!(out.iter().position(|f| f[0] != 0.0), Some(if late_ms > 0.0 { 384 } else { 0 }));
    // While it plays, too.
    let mut engine = Engine::empty(RATE, 128, Metering::On);
    let mut compiler = Compiler::new();
    let mut set = |s: &Session, engine: &mut Engine| {
        engine.take(compiler.changes(s));
        engine.finish();
        s.assets.iter().for_each(|a| engine.shelve(compiler.number(&a.id), bank.get(&a.id).unwrap().clone()));
    };
    set(&s, &mut engine);
    engine.play();
    let mut heard = vec![[0.0; 2]; 9000];
    heard[..3000].chunks_mut(128).for_each(|block| engine.process(block));
    apply(&mut s, &Edit::SetVoiceLate(SetVoiceLate { voices, late_ms: 0.0 })).unwrap();
    set(&s, &mut engine);
    heard[3000..].chunks_mut(128).for_each(|block| engine.process(block));
    assert_eq!(heard.iter().rposition(|f| f[0] != 0.0), Some(6000));
    let too_late = Edit::SetVoiceLate(SetVoiceLate { voices: vec![s.voices[0].id], late_ms: 100.5 });
    assert!(apply(&mut s, &too_late).is_err());
}

#[test]
fn a_shaped_voice_gives_the_same_bits_for_every_block() {
    let (mut s, bank) = busy();
    with_layers(&mut s, |l| {
        l.sweep = Some(lane_document::session::PitchSweep { depth_st: 18.0, ms: 30.0 });
        l.decay = Some(lane_document::session::Decay { hold_ms: 10.0, ms: 90.0, curve_percent: 70.0 });
        l.fade_in = lane_document::session::FadeIn { ms: 3.0, curve_percent: -40.0 };
        (l.start_frame, l.end_frame) = (100, Some(8000));
    });
    let expected = render(&s, &bank, 30_000, 128);
    for block in [1, 480, 4096] {
        assert_eq!(render(&s, &bank, 30_000, block), expected, "{block}");
    }
}

#[test]
fn the_end_of_a_swept_and_decaying_hit_is_known() {
    let (mut s, bank) = beat(sine(60.0, 24_000), vec![hit(0)], Hold::Whole, -250.0);
    with_layers(&mut s, |l| l.sweep = Some(lane_document::session::PitchSweep { depth_st: -12.0, ms: 200.0 }));
    let end = Plan::new(&s).rung_out(&s, 0, 100) as usize;
    let out = render(&s, &bank, end + 2000, 128);
    let last = out.iter().rposition(|f| f[0] != 0.0).unwrap();
    assert!(last < end && end - last < 4, "sounds until {last}, said {end}");
}

mod asleep;
mod chains;
mod keeping;
mod routed;
