//! Shapes keep the song's time: through latencies, loops and jumps, whatever the blocks are.

use super::*;
use crate::time::clock::{Planned, Span};
use crate::time::score::Grid;
use crate::time::score::Lead;
use crate::time::score::Score;
use lane_document::edit::{AddProcessor, SetProcessor};
use lane_document::session::Key;
use lane_dsp::beat_shape::{ShapeLength, ShapePoint};
use lane_dsp::{BeatShape, Begin, Limiter, Settings};
use lane_units::{Dice, ProcessorId, StripId};
use std::collections::BTreeSet;

/// A lane of 60 Hz that goes on and on, another with hits at some ticks, and a shape on the first.
fn scene(at: &[u32], keyed: bool, late: bool) -> (Session, AssetBank, StripId, ProcessorId) {
    let hits = at.iter().map(|at| hit(*at)).collect();
    let (mut s, mut bank) = beat(sine(60.0, 40 * RATE as usize), vec![hit(0)], Hold::Whole, 0.0);
    add_voice(&mut s, &mut bank, "bb", click(), hits, Hold::Whole, 0.0);
    let [sound, key] = [s.voices[0].channel, s.voices[1].channel];
    let mut add = |settings, key: Option<StripId>| {
        apply(
            &mut s,
            &Edit::AddProcessor(AddProcessor { strips: vec![sound], settings, key: key.map(Key::new), at: None }),
        )
        .unwrap();
        s.strip(sound).unwrap().chain.last().unwrap().id
    };
    if late {
        add(Settings::Limiter(Limiter { ceiling_dbtp: 0.0, ..Limiter::default() }), None);
    }
    let mut shape = BeatShape {
        points: vec![
            ShapePoint { at_percent: 0.0, down_percent: 100.0, bend_percent: 0.0 },
            ShapePoint { at_percent: 60.0, down_percent: 0.0, bend_percent: 0.0 },
        ],
        ..BeatShape::default()
    };
    (shape.base.length, shape.base.depth_db) = (ShapeLength::Quarter, 12.0);
    let id = add(Settings::BeatShape(shape), keyed.then_some(key));
    (s, bank, sound, id)
}

/// What a shape takes away, frame by frame from the start of the song, in dB; nothing where its sound is too faint to tell.
fn taken(
    s: &Session,
    bank: &AssetBank,
    shape: ProcessorId,
    from: u64,
    looping: Option<LoopRange>,
    block: usize,
    count: usize,
) -> Vec<Option<f64>> {
    let mut engine = Engine::new(s, bank, block, Metering::Off);
    engine.set_loop(looping);
    engine.seek(from);
    engine.play();
    let strip = s.voices[0].channel;
    let [(before, _), (behind, _)] = engine.around(strip, shape);
    let (mut dry, mut wet) = (Vec::new(), Vec::new());
    let mut out = vec![[0.0; 2]; block];
    while wet.len() < count {
        engine.process_heard(&mut out, &mut |of, station, frames| {
            if of == strip && station == before {
                dry.extend_from_slice(frames);
            }
            if of == strip && station == behind {
                wet.extend_from_slice(frames);
            }
        });
    }
    let db = |(d, w): (&Frame, &Frame)| (d[0].abs() > 0.01).then(|| lane_units::gain_to_db(d[0] / w[0]));
    dry.iter().zip(&wet).map(db).take(count).collect()
}

fn compare(found: &[Option<f64>], wanted: impl Fn(usize) -> f64, from: usize) {
    let mut told = 0;
    for (n, db) in found.iter().enumerate().skip(from) {
        if let Some(db) = db {
            assert!((db - wanted(n)).abs() < 1e-6, "frame {n}: {db} for {}", wanted(n));
            told += 1;
        }
    }
    assert!(told > (found.len() - from) / 2, "{told} frames");
}

/// The shape of the scene, so many frames after it began: a step of 48 frames, then a line.
fn after(frames: f64) -> f64 {
    if frames < 48.0 { 12.0 * frames / 48.0 } else { (12.0 * (1.0 - (frames - 48.0) / (14_400.0 - 48.0))).max(0.0) }
}

#[rstest]
fn on_the_beat_it_begins_with_the_sound_of_the_beat(
    #[values(false, true)] late: bool,
    #[values(128, 1000)] block: usize,
) {
    let (s, bank, strip, id) = scene(&[0], false, late);
    let arrives = if late { s.strip(strip).unwrap().chain[0].slot(&s.header).latency(RATE) } else { 0 };
    assert_eq!(arrives > 0, late);
    let found = taken(&s, &bank, id, 0, None, block, 100_000);
    compare(&found, |n| after(((n - arrives) % 24_000) as f64), arrives + 300);
}

#[rstest]
fn with_a_key_it_begins_with_every_planned_hit_to_the_frame(#[values(false, true)] late: bool) {
    let ticks = [240, 1100, 1130, 2400, 3600];
    let (s, bank, strip, id) = scene(&ticks, true, late);
    let arrives = if late { s.strip(strip).unwrap().chain[0].slot(&s.header).latency(RATE) } else { 0 };
    let hits: Vec<usize> = ticks.iter().map(|t| (*t as f64 * 25.0).round() as usize).collect();
    let found = taken(&s, &bank, id, 0, None, 256, 96_000);
    let value = |n: usize| {
        let n = n.checked_sub(arrives)?;
        let last = hits.iter().rposition(|h| *h <= n)?;
        let from = last.checked_sub(1).map_or(0.0, |before| {
            if hits[last] - hits[before] > 14_400 { 0.0 } else { after((hits[last] - hits[before]) as f64) }
        });
        let age = (n - hits[last]) as f64;
        Some(if age < 48.0 { from + (12.0 - from) * age / 48.0 } else { after(age) })
    };
    compare(&found, |n| value(n).unwrap_or(0.0), 300);
}

#[rstest]
#[case::beat(false)]
#[case::hits(true)]
fn in_a_loop_it_is_what_it_is_in_the_song(#[case] keyed: bool) {
    let (s, bank, _, id) = scene(&[240, 1100, 2400, 3600], keyed, true);
    let range = LoopRange { from: 30_000, to: 54_000 };
    let song = taken(&s, &bank, id, 0, None, 512, 60_000);
    let arrives = s.strips.iter().flat_map(|s| &s.chain).next().unwrap().slot(&s.header).latency(RATE);
    // The sound is heard from the start, so that it is there in the loop.
    let looped = taken(&s, &bank, id, 0, Some(range), 333, 140_000);
    let place = |n: usize| {
        let n = n - arrives;
        if n < 54_000 { n } else { 30_000 + (n - 54_000) % 24_000 }
    };
    let mut told = 0;
    for (n, db) in looped.iter().enumerate().skip(1000) {
        let (Some(db), Some(wanted)) = (db, song.get(place(n) + arrives).copied().flatten()) else { continue };
        // After a jump it takes a millisecond to get there.
        if n > 54_000 && (n - arrives - 54_000) % 24_000 < 50 {
            continue;
        }
        assert!((db - wanted).abs() < 1e-6, "frame {n}: {db} for {wanted}");
        told += 1;
    }
    assert!(told > 60_000, "{told}");
}

#[test]
fn entered_anywhere_it_goes_on_from_the_last_hit() {
    let mut dice = Dice::new(&[5]);
    for round in 0..12 {
        // From a few to more than are known at a time.
        let count = [3, 12, 60, 700][round % 4];
        let ticks: BTreeSet<u32> = (0..count).map(|_| (dice.roll() % 3800) as u32).collect();
        let (mut s, _, _, _) = scene(&ticks.iter().copied().collect::<Vec<_>>(), true, false);
        // Every third is a ghost note.
        let mut soft: Vec<Hit> = s.parts[1].hits.to_vec();
        soft.iter_mut().step_by(3).for_each(|hit| hit.velocity = 20);
        s.parts[1].hits = soft;
        let least = [0, 21][round / 4 % 2];
        let mut hits = planned_hits(&s, &[s.voices[1].channel], 0, 400_000);
        hits.retain(|hit| hit.velocity >= least);
        let grid = Grid::of(&s);
        let mut lead = Lead::new();
        (lead.score, lead.strip) = (Score::of(&s, &s.voices[1]), 3);
        let mut planned = Planned::new();
        let mut position = 0;
        for _ in 0..300 {
            if dice.roll().is_multiple_of(4) {
                position = dice.roll() % 380_000;
            }
            let span = Span { frames: 1 + (dice.roll() % 700) as usize, playing: true, position };
            let found = planned.around(std::slice::from_ref(&lead), &[1, 3], &grid, span, least).to_vec();
            let end = position + span.frames as u64;
            let within =
                |all: &[Begin]| all.iter().copied().filter(|hit| (position..end).contains(&hit.at)).collect::<Vec<_>>();
            assert_eq!(within(&found), within(&hits), "{span:?}");
            let before =
                |all: &[Begin]| all.iter().rev().copied().filter(|hit| hit.at < position).take(2).collect::<Vec<_>>();
            assert_eq!(before(&found), before(&hits), "{span:?}");
            assert!(found.is_sorted());
            position = end;
        }
    }
}

#[test]
fn a_shape_by_two_lanes_begins_with_the_hits_of_both() {
    let (mut s, mut bank, sound, id) = scene(&[0], true, false);
    let rest = [1000, 2500].map(hit).to_vec();
    add_voice(&mut s, &mut bank, "cc", click(), rest, Hold::Whole, 0.0);
    let [first, second] = [1, 2].map(|n: usize| s.voices[n].channel);
    let key = Key { also: [Some(second), None, Some(first)], ..Key::new(first) };
    assert_eq!(key.sources().collect::<Vec<_>>(), [first, second], "each once");
    let change = lane_document::edit::ProcessorChange::Key(Some(key));
    apply(&mut s, &Edit::SetProcessor(SetProcessor { strip: sound, processor: id, change })).unwrap();
    let found = taken(&s, &bank, id, 0, None, 512, 90_000);
    for tick in [0, 1000, 2500_usize] {
        // 25 frames a tick at 120 bpm.
        let at = 25 * tick + 200;
        let db = found[at..at + 50].iter().flatten().fold(0.0, |most: f64, db| most.max(*db));
        assert!((db - 11.9).abs() < 0.2, "{db} dB after tick {tick}");
    }
}

#[test]
fn hits_that_change_while_it_plays_are_followed() {
    let (mut s, bank, _, id) = scene(&[0, 960], true, false);
    let mut engine = Engine::empty(RATE, 128, Metering::On);
    let mut compiler = Compiler::new();
    engine.take(compiler.changes(&s));
    engine.finish();
    for asset in &s.assets {
        engine.shelve(compiler.number(&asset.id), bank.get(&asset.id).unwrap().clone());
    }
    engine.play();
    let mut block = vec![[0.0; 2]; 48_000];
    engine.process(&mut block);
    // Another hit, a moment ahead.
    let (pattern, voice) = (s.patterns[0].id, s.voices[1].id);
    let part = s.parts.iter().find(|p| p.voice == voice).unwrap();
    let mut hits: Vec<Hit> = part.hits.to_vec();
    hits.push(hit(1950));
    s.parts.iter_mut().find(|p| p.voice == voice && p.pattern == pattern).unwrap().hits = hits;
    engine.take(compiler.changes(&s));
    let reduction = |engine: &mut Engine| {
        let mut values = vec![0.0; engine.meter_values()];
        engine.read_meters(&mut values);
        let layout = engine.meter_layout();
        let mut at = 0;
        for strip in layout {
            at += METER_VALUES;
            for processor in strip.processors {
                if processor == id {
                    return values[at + 4];
                }
                at += SLOT_METER_VALUES;
            }
        }
        unreachable!("it is there")
    };
    reduction(&mut engine);
    engine.process(&mut block[..600]);
    reduction(&mut engine);
    engine.process(&mut block[..600]);
    assert!(reduction(&mut engine) > 11.0, "the new hit at frame 48,750");
}
