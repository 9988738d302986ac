//! Sides held against engines by themselves, an independent loudness meter, and plain counting.

use super::*;
use ebur128::{EbuR128, Mode};
use lane_document::edit::{AddProcessor, AddVoices, Edit, NewHits, NewVoice, SetStrips, StripChange, apply};
use lane_document::session::{AssetBank, AssetRef, Audio, Family, Hit, Hold, Layer, Session, Tempo, VoiceSource};
use lane_dsp::{Compressor, Limiter, Settings};
use lane_engine::{Compiler, Engine, LoopRange, Metering, Playhead};
use lane_units::{AssetId, Dice, Frame};
use rstest::rstest;
use std::sync::Arc;

const RATE: u32 = 48_000;
/// One bar at 120 bpm.
const BAR: u64 = 96_000;
const LOOP: LoopRange = LoopRange { from: 0, to: 2 * BAR };
/// Frames of a ramp of 5 ms.
const RAMP: usize = 240;

/// Hits of noise on every beat.
fn beat(fall: f64) -> (Session, AssetBank) {
    let mut s = Session::new("Sides", RATE);
    s.header.tempo_bpm = Tempo::new(120.0).unwrap();
    let mut dice = Dice::new(&[4]);
    let samples = (0..20_000).map(|n| (0.6 * dice.spread() * libm::exp(-f64::from(n) / fall)) as f32).collect();
    let audio = Audio::new(1, samples).unwrap();
    let id = AssetId("ab".repeat(32));
    let asset = AssetRef { id: id.clone(), name: "a.wav".into(), channels: 1, sample_rate: RATE, frames: 20_000 };
    let bank = AssetBank::from([(id.clone(), Arc::new(audio))]);
    // Some of them pitched, so that they are read between the frames of the sample.
    let hits = (0..8).map(|n| Hit::new(n * 960, 240, 60 + 8 * n as u8, (n % 3) as i8)).collect();
    let voice = NewVoice {
        trim_db: 0.0,
        name: "Hit".into(),
        family: Family::Low,
        source: VoiceSource::OneShot { layers: vec![Layer::new(id)], hold: Hold::Whole },
        output: None,
        hits: vec![NewHits { pattern: s.patterns[0].id, hits }],
    };
    apply(&mut s, &Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![asset] })).unwrap();
    (s, bank)
}

fn with_fader(session: &Session, fader_db: f64) -> Session {
    let mut other = session.clone();
    let strips = vec![session.voices[0].channel];
    apply(&mut other, &Edit::SetStrips(SetStrips { strips, change: StripChange::FaderDb(fader_db) })).unwrap();
    other
}

fn with(session: &Session, settings: Settings) -> Session {
    let mut other = session.clone();
    let strips = vec![session.voices[0].channel];
    apply(&mut other, &Edit::AddProcessor(AddProcessor { strips, settings, key: None, at: None })).unwrap();
    other
}

fn engine(session: &Session, bank: &AssetBank) -> Engine {
    let mut engine = Engine::new(session, bank, 128, Metering::Off);
    engine.set_loop(Some(LOOP));
    engine.play();
    engine
}

fn alone(session: &Session, bank: &AssetBank, frames: usize) -> Vec<Frame> {
    let mut out = vec![[0.0; 2]; frames];
    engine(session, bank).process(&mut out);
    out
}

/// Plays now with its sides in blocks; `at` is asked before every block.
fn play(
    now: &mut Engine,
    sides: &mut Sides,
    frames: usize,
    block: usize,
    mut at: impl FnMut(usize, &mut Sides),
) -> Vec<Frame> {
    let mut out = vec![[0.0; 2]; frames];
    let mut done = 0;
    for block in out.chunks_mut(block) {
        at(done, sides);
        let head = now.playhead();
        now.process(block);
        sides.process(now, head, block);
        done += block.len();
    }
    out
}

fn constant(value: f32, frames: usize) -> Arc<Audio> {
    Arc::new(Audio::new(1, vec![value; frames]).unwrap())
}

fn whole(frames: u64) -> Way {
    Way { follows: false, start: 0, from: 0, to: frames }
}

fn recording(audio: Arc<Audio>, way: Way) -> Sound {
    Sound::Recording(Box::new(Recording::new(audio, way, RATE)))
}

/// The session with its one layer changed.
fn with_layer(session: &Session, change: fn(&mut Layer)) -> Session {
    let mut other = session.clone();
    if let VoiceSource::OneShot { layers, .. } = &mut other.voices[0].source {
        change(&mut layers[0]);
    }
    other
}

#[rstest]
#[case::another_level(|s: &Session| with_fader(s, -7.0))]
#[case::shorter(|s: &Session| with_layer(s, |layer| layer.end_frame = Some(7000)))]
#[case::reversed(|s: &Session| with_layer(s, |layer| layer.reverse = true))]
#[case::later(|s: &Session| with_layer(s, |layer| layer.start_frame = 300))]
#[case::tuned(|s: &Session| with_layer(s, |layer| layer.tune_ct = 30.0))]
fn a_side_that_is_heard_is_bit_for_bit_what_it_is_alone(#[case] change: fn(&Session) -> Session) {
    let (session, bank) = beat(4000.0);
    let other = change(&session);
    let (mut now, mut sides) = (engine(&session, &bank), Sides::new(RATE, 128));
    // Both work with one store of pitched sounds, which is there for both, as in the browser.
    now.reserve();
    let mut compiler = Compiler::new();
    let asset = &session.assets[0].id;
    let mut numbers = Compiler::new();
    assert_eq!(numbers.number(asset), 0);
    sides.put(1, Sound::Session(Box::new(Engine::beside(&now, Metering::Off))));
    let words = compiler.changes_beside(&mut numbers, &other).to_vec();
    sides.take(&mut now, 1, &words);
    sides.finish(&mut now, 1);
    let frames = 4 * LOOP.to as usize / 128 * 128;
    let from = frames / 4 / 128 * 128;
    let out = play(&mut now, &mut sides, frames, 128, |at, sides| match at {
        _ if at == from => sides.hear(1, [0.0; 3]),
        _ if at == 2 * from => sides.hear(0, [0.0; 3]),
        _ => {}
    });
    let (a, b) = (alone(&session, &bank, frames), alone(&other, &bank, frames));
    assert!(out[..from] == a[..from]);
    assert!(out[from + RAMP..2 * from] == b[from + RAMP..2 * from]);
    assert!(out[2 * from + RAMP..] == a[2 * from + RAMP..]);
    assert!(a != b);
}

#[test]
fn a_switch_is_a_straight_line_of_five_milliseconds() {
    let (session, bank) = beat(4000.0);
    let (mut now, mut sides) = (engine(&session, &bank), Sides::new(RATE, 128));
    sides.put(1, recording(constant(0.5, 1000), whole(1000)));
    sides.put(2, recording(constant(-0.25, 1000), whole(1000)));
    let mut out = play(&mut now, &mut sides, 12_800, 128, |at, sides| match at {
        0 => sides.hear(1, [0.0, 0.0, -6.0]),
        6400 => sides.hear(2, [0.0, 0.0, -6.0]),
        _ => {}
    });
    let low = -0.25 * libm::exp10(-6.0 / 20.0);
    let most = (0.5 - low) / RAMP as f64;
    let out: Vec<f64> = out.drain(6000..).map(|[l, _]| l).collect();
    assert!(out.windows(2).all(|w| (w[1] - w[0]).abs() <= most + 1e-9));
    assert!((out[0] - 0.5).abs() < 1e-9 && (out[400 + RAMP] - low).abs() < 1e-9);
}

#[rstest]
fn blocks_of_any_size_give_the_same(#[values(1, 7, 64, 100)] block: usize) {
    let (session, bank) = beat(4000.0);
    let other = with(&session, Settings::Compressor(Compressor { lookahead_ms: 5.0, ..Compressor::default() }));
    let made = |block: usize| {
        let (mut now, mut sides) = (engine(&session, &bank), Sides::new(RATE, 128));
        sides.put(1, Sound::Session(Box::new(engine(&other, &bank))));
        sides.put(2, recording(constant(0.3, 777), Way { follows: true, start: 5000, from: 3, to: 700 }));
        // Switches fall where both block sizes have an edge.
        play(&mut now, &mut sides, 4 * 6400 * 7, block, |at, sides| {
            if at % (6400 * 7) == 0 {
                sides.hear(at / (6400 * 7) % 3, [0.0, -1.0, -2.0]);
            }
        })
    };
    assert_eq!(made(block), made(128));
}

#[test]
fn sides_of_other_latencies_come_out_together() {
    let (session, bank) = beat(400.0);
    let late = with(&session, Settings::Limiter(Limiter { lookahead_ms: 4.0, ..Limiter::default() }));
    let latency = engine(&late, &bank).main_latency();
    assert!(latency > 100);
    // Now waits for the side, as soon as it is there, and the other way round.
    for (now, side) in [(&session, &late), (&late, &session)] {
        let (mut playing, mut sides) = (engine(now, &bank), Sides::new(RATE, 128));
        sides.put(1, Sound::Session(Box::new(engine(side, &bank))));
        let heard = |sides: &mut Sides, playing: &mut Engine, which: usize| {
            let out = play(playing, sides, 2 * BAR as usize, 128, |at, sides| {
                if at == 0 {
                    sides.hear(which, [0.0; 3]);
                }
            });
            // Where the hits of the second bar begin.
            let from = BAR as usize;
            from + out[from..].iter().position(|f| f[0].abs() > 0.01).unwrap()
        };
        let [a, b] = [0, 1].map(|which| heard(&mut sides, &mut playing, which));
        assert_eq!(a, b);
        assert!((BAR as usize + latency..BAR as usize + latency + 4).contains(&a), "{a}");
    }
}

#[test]
fn sides_that_are_not_heard_change_nothing() {
    let (session, bank) = beat(4000.0);
    let (mut now, mut sides) = (engine(&session, &bank), Sides::new(RATE, 128));
    sides.put(1, recording(constant(0.5, 1000), whole(1000)));
    sides.put(2, Sound::Session(Box::new(engine(&with_fader(&session, 6.0), &bank))));
    let out = play(&mut now, &mut sides, 25_600, 128, |at, sides| {
        if at == 12_800 {
            sides.put(2, Sound::Nothing);
        }
    });
    assert_eq!(out, alone(&session, &bank, 25_600));
}

#[test]
fn what_is_taken_away_while_it_is_heard_leaves_no_step() {
    let (session, bank) = beat(4000.0);
    let (mut now, mut sides) = (engine(&session, &bank), Sides::new(RATE, 128));
    sides.put(1, recording(constant(0.5, 1000), whole(1000)));
    sides.hear(1, [0.0; 3]);
    let out = play(&mut now, &mut sides, 3840, 128, |at, sides| {
        if at == 1280 {
            sides.put(1, Sound::Nothing);
        }
    });
    assert!(out[1000..].windows(2).all(|w| (w[1][0] - w[0][0]).abs() < 0.5 / 239.0));
    assert_eq!(out[3000], [0.0; 2]);
}

#[test]
fn transport_goes_to_all_sides() {
    let (session, bank) = beat(4000.0);
    let (mut now, mut sides) = (engine(&session, &bank), Sides::new(RATE, 128));
    let mut side = engine(&session, &bank);
    side.stop();
    now.stop();
    sides.put(1, Sound::Session(Box::new(side)));
    let asked = |now: &mut Engine, sides: &mut Sides, block: &mut [Frame]| {
        let head = now.playhead();
        now.process(block);
        sides.process(now, head, block);
    };
    let mut block = [[0.0; 2]; 128];
    for step in 0..6 {
        match step {
            0 => (now.play(), sides.play()),
            1 => (now.seek(5000), sides.seek(5000)),
            2 => (now.set_loop(None), sides.set_loop(None)),
            3 => (now.stop(), sides.stop()),
            4 => (now.seek(96_000), sides.seek(96_000)),
            _ => (now.play(), sides.play()),
        };
        for _ in 0..9 {
            asked(&mut now, &mut sides, &mut block);
            assert_eq!(sides.engine(1).unwrap().playhead(), now.playhead());
        }
    }
    assert_eq!(now.position(), 96_000 + 9 * 128);
}

#[rstest]
#[case::plain(100, None, 300, &[(100, 300)])]
#[case::round(900, Some((500, 1000)), 700, &[(900, 100), (500, 500), (500, 100)])]
#[case::at_its_end(1000, Some((500, 1000)), 10, &[(500, 10)])]
#[case::behind(1200, Some((500, 1000)), 10, &[(1200, 10)])]
fn stretches_are_those_of_the_engine(
    #[case] position: u64,
    #[case] looping: Option<(u64, u64)>,
    #[case] frames: usize,
    #[case] wanted: &[(u64, usize)],
) {
    let looping = looping.map(|(from, to)| LoopRange { from, to });
    let head = Playhead { playing: true, position, looping };
    assert_eq!(head.stretches(frames).collect::<Vec<_>>(), wanted);
    let mut engine = Engine::empty(RATE, 128, Metering::Off);
    engine.set_loop(looping);
    engine.seek(position);
    engine.play();
    engine.process(&mut vec![[0.0; 2]; frames]);
    let mut passed = head;
    passed.pass(frames);
    assert_eq!(engine.playhead(), passed);
}

/// A recording whose frames say where they stand.
fn counting(frames: usize) -> Arc<Audio> {
    Arc::new(Audio::new(1, (0..frames).map(|n| n as f32).collect()).unwrap())
}

#[test]
fn a_recording_follows_the_song_from_its_bar_on() {
    let mut recording = Recording::new(counting(5000), Way { follows: true, start: 1000, from: 20, to: 3000 }, RATE);
    let mut head = Playhead { playing: true, position: 0, looping: None };
    recording.begin_plainly(head);
    let mut out = vec![[0.0; 2]; 6000];
    recording.process(head, &mut out);
    assert!(out[..1000].iter().all(|f| *f == [0.0; 2]));
    assert_eq!((out[1000], out[1001], out[3979]), ([20.0; 2], [21.0; 2], [2999.0; 2]));
    assert!(out[3980..].iter().all(|f| *f == [0.0; 2]));
    // A jump of the song is one of the recording, over a seam.
    (head.position, head.looping) = (2000, Some(LoopRange { from: 1500, to: 2200 }));
    let mut out = vec![[0.0; 2]; 1200];
    recording.process(head, &mut out);
    assert_eq!(out[200 + RAMP], [520.0 + RAMP as f64; 2]);
    assert_eq!(out[900 + RAMP], [520.0 + RAMP as f64; 2]);
}

#[test]
fn a_recording_goes_round_by_itself_and_begins_anew_with_the_song() {
    let mut recording = Recording::new(counting(5000), Way { follows: false, start: 0, from: 100, to: 1100 }, RATE);
    let mut head = Playhead { playing: true, position: 77, looping: Some(LOOP) };
    let mut out = vec![[0.0; 2]; 2500];
    recording.process(head, &mut out);
    assert_eq!([out[RAMP], out[999], out[1000 + RAMP], out[2499]], [340.0, 1099.0, 340.0, 599.0].map(|x| [x; 2]));
    head.playing = false;
    recording.process(head, &mut out);
    assert_eq!(out[RAMP], [0.0; 2]);
    head.playing = true;
    recording.process(head, &mut out);
    assert_eq!(out[RAMP], [340.0; 2]);
}

#[rstest]
#[case::nothing(Way { follows: false, start: 0, from: 0, to: 0 })]
#[case::behind_its_end(Way { follows: false, start: 0, from: 9000, to: 12_000 })]
#[case::turned_round(Way { follows: true, start: 0, from: 900, to: 100 })]
#[case::far(Way { follows: true, start: u64::MAX, from: u64::MAX, to: u64::MAX })]
fn a_way_outside_the_recording_is_silent(#[case] way: Way) {
    let mut recording = Recording::new(counting(5000), way, RATE);
    let mut out = vec![[1.0; 2]; 500];
    recording.process(Playhead { playing: true, position: 0, looping: None }, &mut out);
    assert!(out.iter().all(|f| *f == [0.0; 2]));
}

fn hear(mut hearing: Hearing) -> SideFigures {
    while hearing.step(10_000) < 1.0 {}
    hearing.read()
}

fn integrated(frames: &[Frame]) -> f64 {
    let mut meter = EbuR128::new(2, RATE, Mode::I).unwrap();
    meter.add_frames_f64(&frames.concat()).unwrap();
    meter.loudness_global().unwrap()
}

/// The loop as it rings on in the second round, from its first hit as it arrives.
fn round(now: &mut Engine, sides: &mut Sides) -> Vec<Frame> {
    let (length, late) = (LOOP.to as usize, now.main_latency());
    play(now, sides, 2 * length + late, 128, |_, _| ()).split_off(length + late)
}

#[rstest]
fn matched_sides_are_as_loud_for_an_independent_meter(#[values(-9.0, 0.0, 5.0)] fader_db: f64) {
    let (session, bank) = beat(9000.0);
    let pressed = Settings::Compressor(Compressor { threshold_dbfs: -30.0, ratio: 8.0, ..Compressor::default() });
    let other = with_fader(&with(&session, pressed), fader_db);
    let mut dice = Dice::new(&[9]);
    let noise: Vec<f32> = (0..150_000).map(|_| (0.2 * dice.spread()) as f32).collect();
    let noise = Arc::new(Audio::new(2, noise).unwrap());
    let way = whole(75_000);
    let lufs: Vec<Option<f64>> = [
        Hearing::session(&session, &bank, LOOP),
        Hearing::session(&other, &bank, LOOP),
        Hearing::recording(noise.clone(), way, RATE, LOOP),
    ]
    .map(|hearing| hear(hearing).lufs)
    .to_vec();
    let offsets = offsets_db(&lufs);
    assert!(offsets.iter().all(|db| *db <= 0.0) && offsets.contains(&0.0));
    let heard: Vec<f64> = (0..3)
        .map(|side| {
            let (mut now, mut sides) = (engine(&session, &bank), Sides::new(RATE, 128));
            sides.put(1, Sound::Session(Box::new(engine(&other, &bank))));
            sides.put(2, recording(noise.clone(), way));
            sides.hear(side, [offsets[0], offsets[1], offsets[2]]);
            integrated(&round(&mut now, &mut sides))
        })
        .collect();
    let spread = heard.iter().copied().fold(f64::MIN, f64::max) - heard.iter().copied().fold(f64::MAX, f64::min);
    assert!(spread < 0.1, "{heard:?}");
}

#[test]
fn figures_of_a_side_are_those_of_the_levels_run() {
    let (session, bank) = beat(9000.0);
    let session = with(&session, Settings::Limiter(Limiter::default()));
    let found = hear(Hearing::session(&session, &bank, LOOP));
    let (mut now, mut sides) = (engine(&session, &bank), Sides::new(RATE, 128));
    assert!((found.lufs.unwrap() - integrated(&round(&mut now, &mut sides))).abs() < 0.05);
    // A hit on every beat: loudness over time goes up and down with it, and never over what is louder for less time.
    let momentary: Vec<f64> = found.momentary_lufs.iter().flatten().copied().collect();
    assert_eq!((momentary.len(), found.seconds), (40, 4.0));
    let loudest = momentary.iter().copied().fold(f64::MIN, f64::max);
    assert!(loudest >= found.short_term_lufs.unwrap() && found.short_term_lufs.unwrap() >= found.lufs.unwrap() - 0.1);
    assert!(found.crest_db.unwrap() > 6.0 && found.true_peak_dbtp.unwrap() < 0.0);
    assert_eq!(found.octaves.hz.len(), 10);
}

#[test]
fn silence_has_no_figures_and_is_not_matched_to() {
    let silent = hear(Hearing::recording(constant(0.0, 48_000), whole(48_000), RATE, LOOP));
    assert_eq!((silent.lufs, silent.short_term_lufs, silent.true_peak_dbtp, silent.crest_db), (None, None, None, None));
    assert!(silent.momentary_lufs.iter().all(Option::is_none));
    assert_eq!(offsets_db(&[Some(-14.0), silent.lufs, Some(-20.5)]), [-6.5, 0.0, 0.0]);
    assert_eq!(offsets_db(&[None, None]), [0.0, 0.0]);
    // One that does not reach into the loop is silent there.
    let way = Way { follows: true, start: 10 * BAR, from: 0, to: 1000 };
    assert_eq!(hear(Hearing::recording(constant(0.5, 1000), way, RATE, LOOP)).lufs, None);
}

#[test]
fn a_mono_recording_is_as_loud_as_the_same_on_both_sides() {
    let mut dice = Dice::new(&[2]);
    let mono: Vec<f32> = (0..96_000).map(|_| (0.3 * dice.spread()) as f32).collect();
    let both: Vec<f32> = mono.iter().flat_map(|x| [*x, *x]).collect();
    let [a, b] = [(1, mono), (2, both)].map(|(channels, samples)| {
        let audio = Arc::new(Audio::new(channels, samples).unwrap());
        hear(Hearing::recording(audio, whole(96_000), RATE, LOOP))
    });
    assert_eq!(a, b);
}

#[test]
fn every_order_is_as_likely_as_the_next() {
    let rounds = 60_000;
    let mut counts = std::collections::BTreeMap::new();
    for round in 0..rounds {
        *counts.entry(order(7, round, 3)).or_insert(0_u32) += 1;
    }
    assert_eq!(counts.len(), 6);
    let even = f64::from(rounds) / 6.0;
    let chi: f64 = counts.values().map(|n| (f64::from(*n) - even).powi(2) / even).sum();
    // Passed by one fair shuffle in a thousand (5 degrees of freedom).
    assert!(chi < 20.5, "{counts:?}");
    assert_eq!(order(7, 3, 3), order(7, 3, 3));
    assert_eq!((order(1, 0, 1), order(1, 0, 0)), (vec![0], vec![]));
}

#[test]
fn the_unknown_one_is_either_as_often_and_tells_nothing_of_the_next() {
    let rounds = 40_000;
    let drawn: Vec<usize> = (0..rounds).map(|round| which_of_two(11, round)).collect();
    let share = |count: usize, of: usize| (count as f64 / of as f64 - 0.5).abs();
    assert!(share(drawn.iter().sum(), drawn.len()) < 0.01);
    let same = drawn.windows(2).filter(|w| w[0] == w[1]).count();
    assert!(share(same, drawn.len() - 1) < 0.01);
    // Nor does the order of a round tell of it.
    let first = (0..rounds).filter(|round| order(11, *round, 2)[0] == which_of_two(11, *round)).count();
    assert!(share(first, drawn.len()) < 0.01);
}

#[rstest]
fn chance_is_that_of_even_odds(#[values(1, 2, 5, 10, 16, 40)] rounds: u32) {
    // Counted in whole numbers: rows of Pascal's triangle.
    let mut row = vec![1_u128];
    for _ in 0..rounds {
        row = std::iter::once(1).chain(row.windows(2).map(|w| w[0] + w[1])).chain([1]).collect();
    }
    for right in 0..=rounds {
        let wanted = row[right as usize..].iter().sum::<u128>() as f64 / 2_f64.powi(rounds as i32);
        let found = chance_of(right, rounds);
        assert!((found - wanted).abs() < 1e-9 * wanted.max(1e-6), "{right} of {rounds}: {found} {wanted}");
    }
    assert!(chance_of(700, 1000) < 1e-30);
}
