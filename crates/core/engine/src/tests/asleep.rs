//! What is silent is not computed, and nobody can tell; what changes live ends as if it had always been so.

use super::*;
use lane_document::edit::{
    AddProcessor, NewBus, NewReturn, ProcessorChange, RemoveProcessors, SetHits, SetOutput, SetProcessor, SetSend,
    SetStrips,
};
use lane_document::session::{Key, StripSend};
use lane_dsp::beat_shape::{BeatShape, ShapeBand, ShapeLength};
use lane_dsp::delay::NoteValue;
use lane_dsp::{Band, Equaliser, Settings};
use lane_units::{Dice, StripId};

struct Chance(Dice);

impl Chance {
    fn upto(&mut self, n: u64) -> u64 {
        self.0.roll() % n
    }

    fn of<T: Copy>(&mut self, list: &[T]) -> T {
        list[self.upto(list.len() as u64) as usize]
    }
}

/// A kind at some settings, most of which do something; tails are short, so that silence comes.
fn some_settings(chance: &mut Chance) -> Settings {
    let all = Settings::all();
    let mut settings = all[chance.upto(all.len() as u64) as usize].clone();
    match &mut settings {
        Settings::Equaliser(Equaliser { bands }) => {
            bands.push(Band { gain_db: chance.upto(12) as f64 - 6.0, freq_hz: 900.0, ..Band::default() });
            if chance.upto(2) == 0 {
                bands.push(Band { range_db: -8.0, freq_hz: 200.0, threshold_dbfs: -40.0, ..Band::default() });
            }
        }
        Settings::Compressor(s) => {
            (s.threshold_dbfs, s.release_ms) = (-30.0, 20.0);
            s.lookahead_ms = chance.of(&[0.0, 0.0, 1.5]);
        }
        Settings::Gate(s) => (s.threshold_dbfs, s.hold_ms, s.release_ms) = (-40.0, chance.of(&[0.0, 30.0]), 15.0),
        Settings::BeatShape(s) => {
            (s.base.length, s.base.band) = (chance.of(ShapeLength::ALL), chance.of(ShapeBand::ALL));
            s.points = BeatShape::starts().swap_remove(chance.upto(4) as usize).1;
        }
        Settings::Transient(s) => (s.attack_db, s.sustain_db, s.ring_ms) = (6.0, -6.0, 30.0),
        Settings::Enhancer(s) => (s.low_percent, s.high_percent) = (40.0, chance.of(&[0.0, 50.0])),
        Settings::EnvelopeFilter(s) => (s.amount_oct, s.release_ms) = (3.0, 10.0),
        Settings::Crush(s) => s.rate_percent = 37.0,
        Settings::Delay(s) => (s.note, s.time_ms, s.feedback_percent) = (NoteValue::Free, 31.0, 20.0),
        Settings::Reverb(s) => (s.decay_s, s.size_percent) = (0.1, 50.0),
        Settings::StereoImage(s) => (s.mono_below_hz, s.delay_frames) = (chance.of(&[0.0, 120.0]), 40.0),
        Settings::Limiter(s) => (s.ceiling_dbtp, s.release_ms) = (-20.0, 5.0),
        Settings::Saturation(_) | Settings::Clipper(_) => {}
    }
    settings
}

/// Lanes with a few short hits far apart, on buses and returns, with chains and keys.
fn some_session(chance: &mut Chance) -> (Session, AssetBank) {
    let mut bank = AssetBank::new();
    let mut s = Session::new("Sparse", RATE);
    s.header.tempo_bpm = lane_document::session::Tempo::new(120.0).unwrap();
    for (n, byte) in ["a1", "a2", "a3", "a4"].into_iter().enumerate() {
        let hits = (0..1 + chance.upto(3))
            .map(|k| Hit { tune_st: chance.of(&[0, 0, 3, -5]), ..hit(240 * (k * 9 + chance.upto(8)) as u32) })
            .collect();
        let sound = sine(80.0 * (n + 1) as f64, 400 + chance.upto(3000) as usize);
        add_voice(&mut s, &mut bank, byte, sound, hits, chance.of(&[Hold::Whole, Hold::Gate { release_ms: 5.0 }]), 0.0);
    }
    let lanes: Vec<StripId> = s.voices.iter().map(|v| v.channel).collect();
    let mut edit = |edit: Edit| apply(&mut s, &edit).map(|_| s.clone()).unwrap();
    edit(Edit::NewBus(NewBus { name: "Drums".into(), feeders: lanes[..2].to_vec() }));
    let made = edit(Edit::NewReturn(NewReturn { name: "Room".into(), feeders: vec![lanes[2]], silent: false }));
    let room = made.strips.iter().find(|x| &*x.name == "Room").unwrap().id;
    edit(Edit::SetSend(SetSend { strips: vec![lanes[0]], send: StripSend { level_db: -6.0, ..StripSend::new(room) } }));
    let strips: Vec<StripId> = made.strips.iter().map(|x| x.id).collect();
    for strip in strips {
        for _ in 0..chance.upto(3) {
            let settings = some_settings(chance);
            // Only a lane is keyed, by one before it, so that nothing runs in a circle.
            let at = lanes.iter().position(|l| *l == strip).filter(|at| *at > 0 && settings.takes_key());
            let key = at.filter(|_| chance.upto(2) == 0).map(|at| Key::new(lanes[at - 1]));
            edit(Edit::AddProcessor(AddProcessor { strips: vec![strip], settings, key, at: None }));
        }
    }
    // The same sounds at another rate.
    s.header.sample_rate = chance.of(&[44_100, RATE, 96_000]);
    let rate = s.header.sample_rate;
    s.assets.iter_mut().for_each(|asset| asset.sample_rate = rate);
    (s, bank)
}

/// Something that a person does; in the document where it is an edit.
fn some_change(chance: &mut Chance, s: &mut Session) -> Option<(u64, u64)> {
    let strip = chance.upto(s.strips.len() as u64) as usize;
    let (id, chain) = (s.strips[strip].id, s.strips[strip].chain.clone());
    let edit = match chance.upto(12) {
        0 => return Some((0, chance.upto(90_000))),
        1 => return Some((1, 0)),
        2 => return Some((2, chance.upto(4))),
        8 => return Some((3, chance.upto(60_000))),
        // What is new in the structure, and what goes.
        9 => Edit::AddProcessor(AddProcessor {
            strips: vec![id],
            settings: some_settings(chance),
            key: None,
            at: Some(0),
        }),
        10 if !chain.is_empty() => {
            Edit::RemoveProcessors(RemoveProcessors { strip: id, processors: vec![chain[0].id] })
        }
        11 => Edit::SetOutput(SetOutput { strips: vec![id], output: Some(s.mix_bus) }),
        3 => {
            let pattern = s.patterns[0].id;
            let voice = s.voices[chance.upto(4) as usize].id;
            Edit::SetHits(SetHits { pattern, voice, hits: vec![hit(240 * chance.upto(28) as u32)] })
        }
        4 | 5 if !chain.is_empty() => {
            let processor = &chain[chance.upto(chain.len() as u64) as usize];
            let change = match chance.upto(3) {
                0 => ProcessorChange::On(!processor.on),
                1 => ProcessorChange::MixPercent(chance.of(&[0.0, 40.0, 100.0])),
                _ => ProcessorChange::InputDb(chance.of(&[-6.0, 0.0, 3.0])),
            };
            Edit::SetProcessor(SetProcessor { strip: id, processor: processor.id, change })
        }
        6 => Edit::SetStrips(SetStrips { strips: vec![id], change: StripChange::Mute(chance.upto(2) == 0) }),
        _ => Edit::SetStrips(SetStrips { strips: vec![id], change: StripChange::TrimDb(chance.of(&[-6.0, 0.0, 2.0])) }),
    };
    // What the session refuses is left undone.
    let _ = apply(s, &edit);
    None
}

fn act(engine: &mut Live, s: &Session, (what, value): (u64, u64)) {
    match what {
        0 => engine.seek(value),
        1 if engine.is_playing() => engine.stop(),
        1 => engine.play(),
        3 => engine.set_loop((value > 500).then_some(LoopRange { from: value / 3, to: value })),
        _ => engine.audition(s.voices[value as usize].id, 0.8, None, 0),
    }
}

#[test]
fn asleep_and_awake_give_the_same_bits_through_jumps_and_changes() {
    let mut slept = 0_u64;
    for seed in 0..40 {
        let mut chance = Chance(Dice::new(&[seed, 12]));
        let (mut s, bank) = some_session(&mut chance);
        let most = chance.of(&[64, 128, 400]);
        let mut asleep = Live::new(&s, &bank, most, Metering::On);
        let mut awake = Live::new(&s, &bank, most, Metering::On);
        awake.stay_awake();
        asleep.play();
        awake.play();
        for block in 0..1500 {
            if chance.upto(60) == 0 {
                match some_change(&mut chance, &mut s) {
                    Some(action) => {
                        act(&mut asleep, &s, action);
                        act(&mut awake, &s, action);
                    }
                    None => {
                        asleep.update(&s, &bank);
                        awake.update(&s, &bank);
                        // Both follow in the same blocks.
                        awake.stay_awake();
                    }
                }
            }
            // Blocks of any length, the same for both.
            let length = if chance.upto(4) == 0 { 1 + chance.upto(300) as usize } else { 128 };
            let (mut one, mut other) = (vec![[0.0; 2]; length], vec![[0.0; 2]; length]);
            asleep.process(&mut one);
            awake.process(&mut other);
            assert!(one == other, "seed {seed}, block {block}");
            slept += u64::from(one.iter().all(|f| *f == [0.0; 2]));
        }
    }
    assert!(slept > 1000, "{slept} blocks of silence");
}

#[test]
fn what_was_changed_live_ends_as_if_it_had_always_been_so() {
    for seed in 0..30 {
        let mut chance = Chance(Dice::new(&[seed, 31]));
        let (mut s, bank) = some_session(&mut chance);
        let mut live = Live::new(&s, &bank, 128, Metering::Off);
        live.play();
        let mut block = [[0.0; 2]; 128];
        for _ in 0..20 {
            if some_change(&mut chance, &mut s).is_none() {
                live.update(&s, &bank);
            }
            for _ in 0..chance.upto(30) {
                live.process(&mut block);
            }
        }
        // Everything that sounded rings out, with what was still to be made.
        live.stop();
        live.set_loop(None);
        let mut silent = 0;
        for _ in 0..40_000 {
            live.process(&mut block);
            silent = if block == [[0.0; 2]; 128] { silent + 1 } else { 0 };
            if silent > 2500 && !live.is_busy() {
                break;
            }
        }
        assert!(silent > 2500, "seed {seed} rings out");
        let mut fresh = Engine::new(&s, &bank, 128, Metering::Off);
        fresh.seek(0);
        live.seek(0);
        fresh.play();
        live.play();
        for n in 0..1200 {
            let mut expected = [[0.0; 2]; 128];
            fresh.process(&mut expected);
            live.process(&mut block);
            // Where a held sample or a round of sums stands goes by the whole time that was played.
            let most = block
                .as_flattened()
                .iter()
                .zip(expected.as_flattened())
                .fold(0.0, |m: f64, (a, b)| m.max((a - b).abs()));
            let by_time = s
                .strips
                .iter()
                .flat_map(|x| &x.chain)
                .any(|p| matches!(p.settings, Settings::Crush(_) | Settings::Limiter(_)));
            assert!(if by_time { most < 2.0 } else { most == 0.0 }, "seed {seed}, block {n}: {most}");
        }
    }
}

#[test]
fn a_new_structure_comes_in_over_blocks_while_the_old_one_plays() {
    let (mut s, bank) = busy();
    let mut engine = Live::new(&s, &bank, 128, Metering::Off);
    engine.play();
    let mut block = [[0.0; 2]; 128];
    engine.process(&mut block);
    let lanes: Vec<StripId> = s.voices.iter().map(|v| v.channel).collect();
    for n in 0..12 {
        let settings = Settings::all().swap_remove(n % Settings::all().len());
        apply(&mut s, &Edit::AddProcessor(AddProcessor { strips: lanes.clone(), settings, key: None, at: None }))
            .unwrap();
    }
    let before = engine.structures();
    engine.update(&s, &bank);
    assert!(engine.is_busy());
    let mut blocks = 0;
    while engine.is_busy() {
        assert_eq!(engine.structures(), before, "the old one plays until the new one is whole");
        engine.process(&mut block);
        assert!(block.iter().any(|f| f[0] != 0.0), "it sounds all the while");
        blocks += 1;
    }
    assert!(blocks > 5, "{blocks} blocks");
    assert_eq!(engine.structures(), before + 1);
    assert_eq!(engine.meter_layout().iter().map(|l| l.processors.len()).sum::<usize>(), 36);
}
