//! Every kind of processor in its place: on lanes, buses, returns and main.

use super::*;
use lane_document::edit::{AddProcessor, NewBus, NewReturn, OrderChain, SetStrips};
use lane_document::session::StripKind;
use lane_dsp::delay::NoteValue;
use lane_dsp::{Band, Delay, Equaliser, Settings, StereoImage, Transient};
use lane_units::StripId;

/// A lane on a bus, with a return; every strip has one kind of processor.
fn with_everywhere(settings: Settings) -> (Session, AssetBank) {
    let (mut s, mut bank) = beat(sine(300.0, 12_000), vec![hit(0), hit(700)], Hold::Whole, 0.0);
    add_voice(&mut s, &mut bank, "dd", sine(90.0, 20_000), vec![hit(240)], Hold::Whole, 0.0);
    let lanes: Vec<StripId> = s.voices.iter().map(|v| v.channel).collect();
    apply(&mut s, &Edit::NewBus(NewBus { name: "Drums".into(), feeders: lanes.clone() })).unwrap();
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Side".into(), feeders: lanes, silent: false })).unwrap();
    let strips = s.strips.iter().map(|x| x.id).collect();
    apply(&mut s, &Edit::AddProcessor(AddProcessor { strips, settings, key: None, at: None })).unwrap();
    (s, bank)
}

/// One of each kind at work.
fn at_work(kind: usize) -> Settings {
    let mut settings = Settings::all().swap_remove(kind);
    match &mut settings {
        Settings::Equaliser(Equaliser { bands }) => {
            bands.push(Band { gain_db: 3.0, ..Band::default() });
            bands.push(Band { range_db: -6.0, freq_hz: 250.0, ..Band::default() });
        }
        Settings::Transient(Transient { attack_db, .. }) => *attack_db = 6.0,
        // Short, since it stands on every strip on the way.
        Settings::Delay(s) => (s.note, s.time_ms) = (NoteValue::Free, 7.0),
        Settings::Enhancer(s) => (s.low_percent, s.high_percent) = (30.0, 30.0),
        _ => {}
    }
    settings
}

/// Tries every kind that there is, one after the other, and says which one it was that failed.
fn with_every_kind(test: impl Fn(usize) + std::panic::RefUnwindSafe) {
    for (kind, settings) in Settings::all().iter().enumerate() {
        if std::panic::catch_unwind(|| test(kind)).is_err() {
            panic!("it was with {}", settings.name());
        }
    }
}

#[test]
fn every_kind_on_every_strip_gives_the_same_bits_for_every_block() {
    with_every_kind(same_bits_for_every_block);
}

fn same_bits_for_every_block(kind: usize) {
    let (s, bank) = with_everywhere(at_work(kind));
    let expected = render(&s, &bank, 24_000, 128);
    assert!(expected.iter().any(|f| f[0].abs() > 1e-3), "it sounds");
    for block in [1, 100, 480, 4096] {
        assert!(render(&s, &bank, 24_000, block) == expected, "blocks of {block}");
    }
}

#[test]
fn switched_off_everywhere_it_sounds_as_without() {
    with_every_kind(sounds_off_as_without);
}

fn sounds_off_as_without(kind: usize) {
    let (mut s, bank) = with_everywhere(at_work(kind));
    s.strips.iter_mut().flat_map(|x| &mut x.chain).for_each(|p| p.on = false);
    let off = render(&s, &bank, 24_000, 128);
    s.strips.iter_mut().for_each(|x| x.chain.clear());
    let without = render(&s, &bank, 24_000, 128);
    // What takes time takes it switched off as well, on the lane, the bus or the return, the mix bus and main.
    let late = 4 * at_work(kind).latency(RATE);
    assert!(off[late..] == without[..24_000 - late]);
}

#[test]
fn a_sound_at_the_end_of_numbers_stays_in_its_lane() {
    with_every_kind(stays_in_its_lane);
}

fn stays_in_its_lane(kind: usize) {
    let (mut s, mut bank) = beat(sine(300.0, 30_000), vec![hit(0)], Hold::Whole, 0.0);
    let huge =
        Audio::new(1, (0..30_000).map(|n| if n / 40 % 2 == 0 { f32::MAX } else { -f32::MAX }).collect()).unwrap();
    add_voice(&mut s, &mut bank, "ee", huge, vec![hit(0)], Hold::Whole, 0.0);
    let lane = s.voices[1].channel;
    let strips = vec![lane];
    apply(&mut s, &Edit::AddProcessor(AddProcessor { strips, settings: at_work(kind), key: None, at: None })).unwrap();
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![lane], change: StripChange::Mute(true) })).unwrap();
    let out = render(&s, &bank, 24_000, 128);
    assert!(out.as_flattened().iter().all(|x| x.is_finite()));
    assert!(out[2000..].iter().any(|f| f[0].abs() > 0.05), "the other lane plays on");
}

#[test]
fn tails_of_a_return_ring_on_after_the_last_hit() {
    let (mut s, bank) = beat(click(), vec![hit(0)], Hold::Whole, 0.0);
    let lane = s.voices[0].channel;
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Echo".into(), feeders: vec![lane], silent: false })).unwrap();
    let echo = s.strips.iter().find(|x| x.kind == StripKind::Return).unwrap().id;
    let settings = Settings::Delay(Delay { feedback_percent: 50.0, ..Delay::default() });
    apply(&mut s, &Edit::AddProcessor(AddProcessor { strips: vec![echo], settings, key: None, at: None })).unwrap();
    let out = render(&s, &bank, 60_000, 128);
    // An eighth at 120 bpm.
    let loud: Vec<usize> = (0..60_000).filter(|n| out[*n][0].abs() > 0.2).collect();
    assert_eq!(loud, [0, 12_000, 24_000, 36_000]);
}

#[test]
fn two_orders_of_a_chain_sound_different_and_each_as_itself_again() {
    let (mut s, bank) = beat(sine(100.0, 20_000), vec![hit(0)], Hold::Whole, 0.0);
    let lane = s.voices[0].channel;
    for settings in [
        Settings::StereoImage(StereoImage { gain_db: 12.0, ..StereoImage::default() }),
        Settings::Clipper(lane_dsp::Clipper { ceiling_dbfs: -12.0, hardness_percent: 100.0 }),
    ] {
        apply(&mut s, &Edit::AddProcessor(AddProcessor { strips: vec![lane], settings, key: None, at: None })).unwrap();
    }
    let order: Vec<_> = s.strip(lane).unwrap().chain.iter().map(|p| p.id).collect();
    let first = render(&s, &bank, 20_000, 128);
    let turned = order.iter().rev().copied().collect();
    apply(&mut s, &Edit::OrderChain(OrderChain { strip: lane, order: turned })).unwrap();
    let second = render(&s, &bank, 20_000, 128);
    let peak = |out: &[Frame]| out.iter().fold(0.0, |m: f64, f| m.max(f[0].abs()));
    // Gain into the clipper is held at -12 dBFS; gain behind it lifts the ceiling by 12 dB. Pan takes 3 dB off neither.
    assert!(peak(&second) > 1.9 * peak(&first), "{} {}", peak(&first), peak(&second));
    apply(&mut s, &Edit::OrderChain(OrderChain { strip: lane, order })).unwrap();
    assert!(render(&s, &bank, 20_000, 128) == first);
}
