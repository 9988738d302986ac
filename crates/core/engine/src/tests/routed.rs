//! Chains, sends, returns, keys and latency at work.

use super::*;
use lane_document::edit::{
    AddProcessor, NewBus, NewReturn, NewTrigger, ProcessorChange, RemoveStrip, RemoveVoices, SetOutput, SetProcessor,
    SetSend, SetStrips, SetTriggers, ShareChannel,
};
use lane_document::routing::mono_places;
use lane_document::session::{Key, Polarity, Processor, SendTap, StripKind, StripSend};
use lane_dsp::{Compressor, Delay, Gate, Reverb, Settings, StereoImage, delay::Sides, stereo_image::Polarities};
use lane_units::{StripId, VoiceId, db_to_gain};

fn channel(s: &Session, at: usize) -> StripId {
    s.voices[at].channel
}

fn named(s: &Session, name: &str) -> StripId {
    s.strips.iter().find(|x| x.name == name).unwrap().id
}

fn set(s: &mut Session, strip: StripId, change: StripChange) {
    apply(s, &Edit::SetStrips(SetStrips { strips: vec![strip], change })).unwrap();
}

fn add(s: &mut Session, strip: StripId, settings: Settings, key: Option<Key>) {
    apply(s, &Edit::AddProcessor(AddProcessor { strips: vec![strip], settings, key, at: None })).unwrap();
}

fn late(ms: f64) -> Settings {
    // At this range it reduces nothing, so that only its latency is left.
    Settings::Compressor(Compressor { lookahead_ms: ms, range_db: 0.0, ..Compressor::default() })
}

fn new_return(s: &mut Session, name: &str, feeder: StripId) -> StripId {
    apply(s, &Edit::NewReturn(NewReturn { name: name.parse().unwrap(), feeders: vec![feeder], silent: false }))
        .unwrap();
    named(s, name)
}

/// Two voices, on a bus and on the mix bus, with hits.
fn pair() -> (Session, AssetBank) {
    let (mut s, mut bank) = beat(sine(200.0, 12_000), vec![hit(0), hit(960)], Hold::Whole, 0.0);
    add_voice(&mut s, &mut bank, "bb", sine(1000.0, 30_000), vec![hit(0), hit(480)], Hold::Whole, 0.0);
    let feeders = vec![channel(&s, 0)];
    apply(&mut s, &Edit::NewBus(NewBus { name: "Drums".into(), feeders })).unwrap();
    (s, bank)
}

fn peak(frames: &[Frame]) -> f64 {
    frames.as_flattened().iter().fold(0.0, |most, x| x.abs().max(most))
}

#[rstest]
fn paths_of_different_latency_null_to_the_sample(
    #[values(0.3, 1.7, 9.0)] on_lane: f64,
    #[values(0.0, 2.4)] on_bus: f64,
    #[values(0.7, 14.0)] on_return: f64,
) {
    let (mut s, bank) = beat(sine(300.0, 12_000), vec![hit(0), hit(700)], Hold::Whole, 0.0);
    let lane = channel(&s, 0);
    apply(&mut s, &Edit::NewBus(NewBus { name: "Drums".into(), feeders: vec![lane] })).unwrap();
    let back = new_return(&mut s, "Turned", lane);
    set(&mut s, back, StripChange::Polarity(Polarity::Inverted));
    add(&mut s, lane, late(on_lane), None);
    let bus = named(&s, "Drums");
    add(&mut s, bus, late(on_bus), None);
    add(&mut s, back, late(on_return), None);
    assert_eq!(peak(&render(&s, &bank, 24_000, 128)), 0.0);
    // With the return the right way round it is twice as loud: what nulled was there.
    set(&mut s, back, StripChange::Polarity(Polarity::Normal));
    assert!((peak(&render(&s, &bank, 24_000, 128)) - 1.0).abs() < 1e-6);
}

#[test]
fn a_key_through_a_late_path_acts_on_the_same_instant() {
    let ducked = |latency: f64| {
        let (mut s, bank) = pair();
        let (kick, bass) = (channel(&s, 0), channel(&s, 1));
        if latency > 0.0 {
            add(&mut s, kick, late(latency), None);
        }
        let duck = Compressor { threshold_dbfs: -30.0, ratio: 20.0, attack_ms: 0.5, ..Compressor::default() };
        add(&mut s, bass, Settings::Compressor(duck), Some(Key::new(kick)));
        set(&mut s, kick, StripChange::Mute(true));
        render(&s, &bank, 24_000, 128)
    };
    let (at_once, later) = (ducked(0.0), ducked(5.0));
    assert!(peak(&at_once) > 0.01);
    assert!(at_once[..23_000] == later[240..23_240]);
}

#[test]
fn a_muted_key_still_keys_and_changes_nothing_of_its_own_lane() {
    let (mut s, bank) = pair();
    let (kick, bass) = (channel(&s, 0), channel(&s, 1));
    set(&mut s, bass, StripChange::Mute(true));
    let kick_alone = render(&s, &bank, 24_000, 128);
    let duck = Compressor { threshold_dbfs: -40.0, ratio: 100.0, attack_ms: 0.1, ..Compressor::default() };
    add(&mut s, bass, Settings::Compressor(duck), Some(Key::new(kick)));
    assert_eq!(render(&s, &bank, 24_000, 128), kick_alone);
    set(&mut s, bass, StripChange::Mute(false));
    set(&mut s, kick, StripChange::Mute(true));
    let ducked = render(&s, &bank, 24_000, 128);
    assert!(peak(&ducked[1000..9000]) < 0.02, "{}", peak(&ducked[1000..9000]));
    // Solo elsewhere does not silence the key either.
    set(&mut s, kick, StripChange::Mute(false));
    set(&mut s, bass, StripChange::Solo(true));
    assert_eq!(render(&s, &bank, 24_000, 128), ducked);
}

#[rstest]
#[case::post_follows_the_fader(SendTap::PostFader, -6.0, db_to_gain(-6.0) * 0.5)]
#[case::pre_does_not(SendTap::PreFader, -6.0, 0.5)]
#[case::pre_with_the_fader_off(SendTap::PreFader, lane_units::OFF_DB, 0.5)]
fn sends_take_the_sound_where_they_say(#[case] tap: SendTap, #[case] fader: f64, #[case] expected: f64) {
    let (mut s, bank) = beat(sine(300.0, 24_000), vec![hit(0)], Hold::Whole, 0.0);
    let lane = channel(&s, 0);
    let back = new_return(&mut s, "Room", lane);
    let send = StripSend { tap, ..StripSend::new(back) };
    apply(&mut s, &Edit::SetSend(SetSend { strips: vec![lane], send })).unwrap();
    set(&mut s, lane, StripChange::FaderDb(fader));
    apply(&mut s, &Edit::SetOutput(SetOutput { strips: vec![lane], output: None })).unwrap();
    assert!((peak(&render(&s, &bank, 12_000, 128)) - expected).abs() < 1e-6);
    let mute = StripSend { mute: true, ..send };
    apply(&mut s, &Edit::SetSend(SetSend { strips: vec![lane], send: mute })).unwrap();
    assert_eq!(peak(&render(&s, &bank, 12_000, 128)), 0.0);
    let left = StripSend { pan_percent: -100.0, level_db: -12.0, ..send };
    apply(&mut s, &Edit::SetSend(SetSend { strips: vec![lane], send: left })).unwrap();
    let out = render(&s, &bank, 12_000, 128);
    assert!(out.iter().all(|f| f[1].abs() < 1e-12) && peak(&out) > 0.0);
    set(&mut s, lane, StripChange::Mute(true));
    assert_eq!(peak(&render(&s, &bank, 12_000, 128)), 0.0, "a muted lane sends nothing");
}

/// A send before the fader that carries width and pan gives what one after a fader at 0 dB gives.
#[rstest]
fn a_placed_send_has_the_width_and_pan_of_its_row(
    #[values(-100.0, -35.0, 0.0, 60.0)] pan: f64,
    #[values(0.0, 100.0, 180.0)] width: f64,
) {
    let (mut s, bank) = beat(sine(300.0, 24_000), vec![hit(0)], Hold::Whole, 0.0);
    let lane = channel(&s, 0);
    let back = new_return(&mut s, "Room", lane);
    apply(&mut s, &Edit::SetOutput(SetOutput { strips: vec![lane], output: None })).unwrap();
    set(&mut s, lane, StripChange::PanPercent(pan));
    set(&mut s, lane, StripChange::WidthPercent(width));
    let mut with = |send: StripSend, fader: f64| {
        apply(&mut s, &Edit::SetSend(SetSend { strips: vec![lane], send })).unwrap();
        set(&mut s, lane, StripChange::FaderDb(fader));
        (render(&s, &bank, 6000, 128), mono_places(&s).strips.contains(&back))
    };
    let after = with(StripSend::new(back), 0.0);
    assert_eq!(with(StripSend::parallel(back), -20.0), after);
    assert_eq!(after.1, pan == 0.0);
    let (plain, mono) = with(StripSend { placed: false, ..StripSend::parallel(back) }, -20.0);
    assert!(mono && plain.iter().all(|[l, r]| l == r), "else it arrives in the middle");
}

/// What is offset is moved by exactly so much against all else, whatever lies on the way.
#[rstest]
fn an_offset_moves_a_strip_against_the_rest(
    #[values(-700, -1, 5, 700)] frames: i32,
    #[values("lane", "bus", "return")] what: &str,
    #[values(0.0, 9.0)] chain_ms: f64,
) {
    let (mut s, mut bank) = beat(click(), vec![hit(480)], Hold::Whole, 0.0);
    add_voice(&mut s, &mut bank, "bb", click(), vec![hit(1440)], Hold::Whole, 0.0);
    let (moved, still) = (channel(&s, 0), channel(&s, 1));
    let strip = match what {
        "lane" => moved,
        "bus" => {
            apply(&mut s, &Edit::NewBus(NewBus { name: "Drums".into(), feeders: vec![moved] })).unwrap();
            named(&s, "Drums")
        }
        _ => {
            apply(&mut s, &Edit::SetOutput(SetOutput { strips: vec![moved], output: None })).unwrap();
            new_return(&mut s, "Copy", moved)
        }
    };
    if chain_ms > 0.0 {
        add(&mut s, strip, late(chain_ms), None);
        add(&mut s, still, late(2.0), None);
    }
    set(&mut s, strip, StripChange::OffsetFrames(frames));
    let mut engine = Engine::new(&s, &bank, 128, Metering::Off);
    engine.play();
    let whole = engine.latency() as usize;
    let mut out = vec![[0.0; 2]; whole + 48_000];
    engine.process(&mut out);
    let at =
        |n: usize| out.iter().enumerate().filter(|(_, f)| f[0].abs() > 0.1).map(|(at, _)| at as i64).nth(n).unwrap();
    let apart = at(1) - at(0);
    assert_eq!(apart, 2 * 12_000 - i64::from(frames), "of {what}");
    // What a stem of it would have is moved with it.
    let late_by = |id| engine.tap_latency(id, Tap::Channel) as i64;
    assert_eq!(at(1) - 36_000, late_by(s.main().unwrap().id));
}

#[test]
fn a_strip_that_is_moved_while_it_plays_does_not_click() {
    let (mut s, bank) = beat(sine(200.0, 96_000), vec![hit(0)], Hold::Whole, 0.0);
    let lane = channel(&s, 0);
    let mut live = Live::new(&s, &bank, 128, Metering::Off);
    live.engine.play();
    let mut out = vec![[0.0; 2]; 24_000];
    live.engine.process(&mut out);
    set(&mut s, lane, StripChange::OffsetFrames(-60));
    live.update(&s, &bank);
    live.engine.process(&mut out);
    let step = out.windows(2).map(|w| (w[1][0] - w[0][0]).abs()).fold(0.0, f64::max);
    // The steepest of the sine, and a seam of 5 ms.
    assert!(step < 0.5 * 200.0 * std::f64::consts::TAU / 48_000.0 + 1.0 / 120.0, "{step}");
}

#[test]
fn a_soloed_lane_is_heard_through_its_return_and_others_are_not() {
    let (mut s, bank) = pair();
    let (kick, bass) = (channel(&s, 0), channel(&s, 1));
    let back = new_return(&mut s, "Room", kick);
    apply(&mut s, &Edit::SetSend(SetSend { strips: vec![bass], send: StripSend::new(back) })).unwrap();
    let mut alone = s.clone();
    let bass_voice = alone.voices[1].id;
    apply(&mut alone, &Edit::RemoveVoices(RemoveVoices { voices: vec![bass_voice] })).unwrap();
    set(&mut s, kick, StripChange::Solo(true));
    assert_eq!(render(&s, &bank, 24_000, 128), render(&alone, &bank, 24_000, 128));
}

#[test]
fn a_trigger_is_never_heard_and_in_no_stem() {
    let (mut s, bank) = pair();
    let before = render(&s, &bank, 24_000, 128);
    let like = s.voices[0].id;
    apply(&mut s, &Edit::NewTrigger(NewTrigger { like, follows: true })).unwrap();
    assert_eq!(render(&s, &bank, 24_000, 128), before);
    let trigger = s.voices.iter().find(|v| v.name.ends_with("trigger")).unwrap().channel;
    assert_eq!(s.strip(trigger).unwrap().kind, StripKind::Trigger);
    let gate = Gate { threshold_dbfs: -30.0, hold_ms: 0.0, release_ms: 5.0, ..Gate::default() };
    let bass = channel(&s, s.voices.iter().position(|v| v.name == "Voice bb").unwrap());
    add(&mut s, bass, Settings::Gate(gate), Some(Key::new(trigger)));
    let drums = named(&s, "Drums");
    set(&mut s, drums, StripChange::Mute(true));
    let gated = render(&s, &bank, 24_000, 128);
    // The trigger's hit lasts a quarter of a second: the gate opens with it and shuts after it.
    assert!(peak(&gated[1000..11_000]) > 0.4 && peak(&gated[16_000..23_000]) < 0.001);
}

#[rstest]
#[case::to_another_bus(|s: &Session| Edit::SetOutput(SetOutput { strips: vec![channel(s, 0)], output: Some(StripId(2)) }))]
#[case::to_nothing(|s: &Session| Edit::SetOutput(SetOutput { strips: vec![channel(s, 0)], output: None }))]
#[case::a_new_bus(|s: &Session| Edit::NewBus(NewBus { name: "More".into(), feeders: vec![channel(s, 0), channel(s, 1)] }))]
#[case::a_new_return(|s: &Session| Edit::NewReturn(NewReturn { name: "Room".into(), feeders: vec![channel(s, 1)], silent: false }))]
#[case::bus_gone(|s: &Session| Edit::RemoveStrip(RemoveStrip { strip: named(s, "Drums"), feeders_to: Some(StripId(2)) }))]
#[case::shared(|s: &Session| Edit::ShareChannel(ShareChannel { voices: vec![s.voices[0].id], channel: channel(s, 1) }))]
#[case::a_processor(|s: &Session| Edit::AddProcessor(AddProcessor {
    strips: vec![channel(s, 0)],
    settings: Settings::StereoImage(StereoImage { gain_db: -20.0, ..StereoImage::default() }),
    key: None,
    at: None,
}))]
#[case::a_late_processor(|s: &Session| Edit::AddProcessor(AddProcessor { strips: vec![channel(s, 1)], settings: late(7.0), key: None, at: None }))]
#[case::a_trigger(|s: &Session| Edit::SetTriggers(SetTriggers { voices: vec![s.voices[0].id], trigger: true }))]
fn routing_changes_while_playing_neither_click_nor_gap(#[case] change: fn(&Session) -> Edit) {
    let mut bank = AssetBank::new();
    let mut s = Session::new("Steady", RATE);
    s.header.tempo_bpm = lane_document::session::Tempo::new(120.0).unwrap();
    add_voice(&mut s, &mut bank, "aa", sine(60.0, 96_000), vec![hit(0)], Hold::Whole, 0.0);
    add_voice(&mut s, &mut bank, "bb", sine(90.0, 96_000), vec![hit(0)], Hold::Whole, 0.0);
    let feeders = vec![channel(&s, 0)];
    apply(&mut s, &Edit::NewBus(NewBus { name: "Drums".into(), feeders })).unwrap();
    let drums = named(&s, "Drums");
    set(&mut s, drums, StripChange::FaderDb(-12.0));
    let mut engine = Live::new(&s, &bank, 128, Metering::Off);
    engine.play();
    let mut out = vec![[0.0; 2]; 20_000];
    engine.process(&mut out[..9900]);
    let edit = change(&s);
    apply(&mut s, &edit).unwrap();
    engine.update(&s, &bank);
    engine.process(&mut out[9900..]);
    let steepest = out[9000..].windows(2).map(|w| (w[1][0] - w[0][0]).abs()).fold(0.0, f64::max);
    // The sines themselves move by 0.0087 a frame; a full step in 5 ms would add 0.0042.
    assert!(steepest < 0.0087 + 0.0063, "{steepest}");
    for piece in out[9000..].chunks(2000) {
        assert!(peak(piece) > 0.05, "a gap");
    }
}

#[rstest]
fn a_routed_session_gives_the_same_bits_for_every_block(#[values(1, 64, 480, 4096)] block: usize) {
    let (mut s, bank) = busy();
    let (kick, hats) = (channel(&s, 0), channel(&s, 2));
    let back = new_return(&mut s, "Room", hats);
    add(&mut s, back, Settings::Compressor(Compressor { threshold_dbfs: -40.0, ..Compressor::default() }), None);
    let key = Key { high_pass_hz: 40.0, low_pass_hz: 900.0, level_db: 3.0, ..Key::new(kick) };
    let duck = Compressor { threshold_dbfs: -30.0, lookahead_ms: 2.0, ..Compressor::default() };
    add(&mut s, hats, Settings::Compressor(duck), Some(key));
    let drums = named(&s, "Drums");
    add(&mut s, drums, Settings::Gate(Gate { threshold_dbfs: -24.0, ..Gate::default() }), None);
    let expected = render(&s, &bank, 30_000, 128);
    assert_eq!(render(&s, &bank, 30_000, block), expected);
}

#[test]
fn what_a_key_hears_can_be_listened_to() {
    let (mut s, bank) = pair();
    let (kick, bass) = (channel(&s, 0), channel(&s, 1));
    add(&mut s, bass, Settings::Compressor(Compressor::default()), Some(Key::new(kick)));
    let processor = s.strip(bass).unwrap().chain[0].id;
    let mut engine = Engine::new(&s, &bank, 128, Metering::On);
    engine.listen(Some((bass, processor, Listened::Key)));
    engine.play();
    let mut out = vec![[0.0; 2]; 12_000];
    engine.process(&mut out);
    let kick_alone = engine_alone(&s, &bank, 0);
    assert_eq!(out[300..], kick_alone[300..12_000]);
}

#[rstest]
fn what_a_processor_takes_away_is_what_is_missing(
    #[values(0.0, 5.0)] lookahead_ms: f64,
    #[values(64, 1000)] block: usize,
) {
    let (mut s, bank) = beat(sine(300.0, 24_000), vec![hit(0)], Hold::Whole, 0.0);
    let lane = channel(&s, 0);
    let dry = render(&s, &bank, 30_000, 128);
    let hard = Compressor { threshold_dbfs: -30.0, lookahead_ms, ..Compressor::default() };
    add(&mut s, lane, Settings::Compressor(hard), None);
    let processor = s.strip(lane).unwrap().chain[0].clone();
    let late = processor.slot(&s.header).latency(RATE);
    let wet = render(&s, &bank, 30_000, 128);
    let mut engine = Engine::new(&s, &bank, block, Metering::On);
    engine.listen(Some((lane, processor.id, Listened::Taken)));
    engine.play();
    let mut taken = vec![[0.0; 2]; 30_000];
    engine.process(&mut taken);
    assert!(taken.iter().any(|f| f[0].abs() > 0.05));
    for n in 300..30_000 - late {
        let (dry, wet, taken) = (dry[n - late.min(n)][0], wet[n][0], taken[n][0]);
        assert!((taken - (dry - wet)).abs() < 1e-12, "frame {n}: {taken} for {dry} less {wet}");
    }
    // And back to main without a click of its own.
    engine.listen(None);
    let mut main = vec![[0.0; 2]; 2000];
    engine.process(&mut main);
    assert!(main.iter().all(|f| f[0].is_finite()));
}

/// One voice as it leaves the engine with nothing else in the session.
fn engine_alone(s: &Session, bank: &AssetBank, voice: usize) -> Vec<Frame> {
    let mut alone = s.clone();
    let others: Vec<VoiceId> = s.voices.iter().map(|v| v.id).filter(|id| *id != s.voices[voice].id).collect();
    apply(&mut alone, &Edit::RemoveVoices(RemoveVoices { voices: others })).unwrap();
    render(&alone, bank, 12_000, 128)
}

#[test]
fn meters_stand_after_each_processor_and_say_what_it_takes_away() {
    let (mut s, bank) = beat(sine(300.0, 48_000), vec![hit(0)], Hold::Whole, 0.0);
    let lane = channel(&s, 0);
    add(&mut s, lane, Settings::StereoImage(StereoImage { gain_db: -6.0, ..StereoImage::default() }), None);
    let hard =
        Compressor { threshold_dbfs: -20.0, ratio: 100.0, knee_db: 0.0, attack_ms: 0.02, ..Compressor::default() };
    add(&mut s, lane, Settings::Compressor(hard), None);
    let mut engine = Engine::new(&s, &bank, 128, Metering::On);
    engine.play();
    engine.process(&mut vec![[0.0; 2]; 24_000]);
    let mut values = vec![0.0; engine.meter_values()];
    engine.read_meters(&mut values);
    engine.process(&mut vec![[0.0; 2]; 9600]);
    engine.read_meters(&mut values);
    let layout = engine.meter_layout();
    let at: usize = layout
        .iter()
        .take_while(|l| l.strip != lane)
        .map(|l| METER_VALUES + SLOT_METER_VALUES * l.processors.len())
        .sum();
    let processor = |n: usize| &values[at + METER_VALUES + SLOT_METER_VALUES * n..][..SLOT_METER_VALUES];
    assert!((f64::from(processor(0)[0]) - 0.5 * db_to_gain(-6.0)).abs() < 1e-3);
    assert!((f64::from(processor(1)[0]) - db_to_gain(-20.0)).abs() < 0.01, "{}", processor(1)[0]);
    assert!((processor(1)[4] - 7.98).abs() < 0.1, "{}", processor(1)[4]);
}

#[test]
fn another_kind_of_processor_keeps_the_key() {
    let (mut s, _) = pair();
    let (kick, bass) = (channel(&s, 0), channel(&s, 1));
    add(&mut s, bass, Settings::Compressor(Compressor::default()), Some(Key::new(kick)));
    let processor = s.strip(bass).unwrap().chain[0].id;
    let change = ProcessorChange::Settings(Settings::Gate(Gate::default()));
    apply(&mut s, &Edit::SetProcessor(SetProcessor { strip: bass, processor, change })).unwrap();
    assert_eq!(s.strip(bass).unwrap().chain[0].key, Some(Key::new(kick)));
}

#[test]
fn passing_a_processor_by_is_fair_and_has_no_gap() {
    let (mut s, bank) = beat(sine(300.0, 96_000), vec![hit(0)], Hold::Whole, 0.0);
    let lane = channel(&s, 0);
    add(&mut s, lane, Settings::StereoImage(StereoImage { gain_db: -9.0, ..StereoImage::default() }), None);
    let id = s.strip(lane).unwrap().chain[0].id;
    let play = |bypass: Option<Bypass>| {
        let mut engine = Engine::new(&s, &bank, 128, Metering::Off);
        engine.play();
        let mut out = vec![[0.0; 2]; 48_000];
        engine.process(&mut out[..24_000]);
        bypass.iter().for_each(|b| engine.pass_by(b));
        engine.process(&mut out[24_000..]);
        out
    };
    let worked = play(None);
    let fair = play(Some(Bypass { processors: vec![(id, -9.0)], main_db: 0.0 }));
    let off = worked.iter().zip(&fair).map(|(a, b)| (a[0] - b[0]).abs()).fold(0.0, f64::max);
    assert!(off < 1e-12, "as loud as with it: {off}");
    let louder = play(Some(Bypass { processors: vec![(id, 0.0)], main_db: 0.0 }));
    assert!((peak(&louder[30_000..]) / peak(&worked[30_000..]) - db_to_gain(9.0)).abs() < 1e-6);
    let step = |sound: &[Frame]| sound.windows(2).map(|w| (w[1][0] - w[0][0]).abs()).fold(0.0, f64::max);
    assert!(step(&louder[23_900..24_400]) < step(&louder[30_000..31_000]) + peak(&louder) / 240.0);
    let quieter = play(Some(Bypass { processors: vec![], main_db: -6.0 }));
    assert!((peak(&quieter[30_000..]) / peak(&worked[30_000..]) - db_to_gain(-6.0)).abs() < 1e-6);
}

#[test]
fn a_processor_that_gives_no_numbers_is_stopped_and_reported_once() {
    let (mut s, mut bank) = beat(sine(300.0, 48_000), vec![hit(0), hit(1920)], Hold::Whole, 0.0);
    add_voice(&mut s, &mut bank, "cc", sine(200.0, 2000), vec![hit(0)], Hold::Whole, 0.0);
    let lane = channel(&s, 1);
    let louder = Settings::StereoImage(StereoImage { gain_db: 24.0, ..StereoImage::default() });
    // As much gain as leaves the range of numbers: more than an edit lets in.
    let strip = s.strips.iter_mut().find(|x| x.id == lane).unwrap();
    strip.chain = (0..90)
        .map(|n| Processor { input_db: 24.0, output_db: 24.0, ..Processor::new(ProcessorId(1000 + n), louder.clone()) })
        .collect();
    let mut engine = Engine::new(&s, &bank, 128, Metering::Off);
    engine.play();
    let mut out = vec![[0.0; 2]; 48_000];
    engine.process(&mut out);
    assert!(out.as_flattened().iter().all(|x| x.is_finite()), "nothing of it comes out");
    assert!(peak(&out[20_000..]) > 0.1, "the rest plays on");
    assert_eq!(engine.take_fault(), Some(lane));
    assert_eq!(engine.take_fault(), None);
}

/// What a person does to the pair.
type Change = fn(&mut Session);

#[rstest]
#[case::plain(|_: &mut Session| ())]
#[case::panned_lane(|s: &mut Session| set(s, channel(s, 0), StripChange::PanPercent(30.0)))]
#[case::room_on_a_lane(|s: &mut Session| add(s, channel(s, 1), Settings::Reverb(Reverb::default()), None))]
#[case::room_switched_off(|s: &mut Session| {
    add(s, channel(s, 1), Settings::Reverb(Reverb::default()), None);
    let lane = channel(s, 1);
    let processor = s.strip(lane).unwrap().chain[0].id;
    apply(s, &Edit::SetProcessor(SetProcessor { strip: lane, processor, change: ProcessorChange::On(false) })).unwrap();
})]
#[case::echoes_in_turn(|s: &mut Session| {
    let delay = Delay { sides: Sides::PingPong, time_ms: 40.0, ..Delay::default() };
    add(s, named(s, "Drums"), Settings::Delay(delay), None);
})]
#[case::echoes_as_they_came(|s: &mut Session| add(s, channel(s, 0), Settings::Delay(Delay::default()), None))]
#[case::one_side_inverted(|s: &mut Session| {
    let image = StereoImage { polarity: Polarities::Left, ..StereoImage::default() };
    add(s, channel(s, 0), Settings::StereoImage(image), None);
})]
#[case::return_from_a_panned_lane(|s: &mut Session| {
    let lane = channel(s, 1);
    set(s, lane, StripChange::PanPercent(-100.0));
    new_return(s, "Back", lane);
})]
fn where_sound_is_mono_width_does_nothing(#[case] change: Change) {
    let (mut s, bank) = pair();
    change(&mut s);
    let places = mono_places(&s);
    let plain = render(&s, &bank, 24_000, 128);
    for strip in s.strips.clone() {
        let mut narrow = s.clone();
        set(&mut narrow, strip.id, StripChange::WidthPercent(0.0));
        let same = render(&narrow, &bank, 24_000, 128) == plain;
        // What nothing arrives at has no width either, and is not named.
        assert!(same || !places.strips.contains(&strip.id), "{} is not mono", strip.name);
        assert!(!same || places.strips.contains(&strip.id), "{} is mono", strip.name);
        let tail = [Processor::new(lane_units::ProcessorId(9000), Settings::StereoImage(StereoImage::default()))];
        let mut more = s.clone();
        let at = more.strips.iter_mut().find(|x| x.id == strip.id).unwrap();
        at.chain.extend(tail);
        assert_eq!(mono_places(&more).processors.contains(&lane_units::ProcessorId(9000)), same, "{}", strip.name);
    }
}
