//! Beat shapes against their definition, over tempi, rates and block sizes.

use super::beat_shape::{BeatShape, ShapeBand, ShapeLength, ShapePoint};
use super::*;
use lane_units::Dice;

fn point(at_percent: f64, down_percent: f64, bend_percent: f64) -> ShapePoint {
    ShapePoint { at_percent, down_percent, bend_percent }
}

fn shape(points: Vec<ShapePoint>, length: ShapeLength, depth_db: f64) -> BeatShape {
    let mut shape = BeatShape { points, ..BeatShape::default() };
    (shape.base.length, shape.base.depth_db) = (length, depth_db);
    shape
}

fn at_tempo(shape: &BeatShape, tempo_bpm: f64) -> SlotPlan {
    SlotPlan { tempo_bpm, ..plan(Settings::BeatShape(shape.clone())) }
}

/// What is taken away of a steady sound, frame by frame, in dB; `starts` is asked for each block.
fn taken<'a>(
    plan: &SlotPlan,
    rate: u32,
    (from, count): (u64, usize),
    block: usize,
    starts: Starts<'a>,
    key: Option<&[Frame]>,
) -> Vec<f64> {
    let mut slot = slot_of(plan, block, rate);
    let mut out = vec![[1.0; 2]; count];
    for (n, piece) in out.chunks_mut(block).enumerate() {
        let now = Moment { playing: true, position: from + (n * block) as u64, starts };
        let key = key.map(|k| &k[n * block..n * block + piece.len()]);
        slot.process_at(piece, key, Silent::NO, &now);
    }
    out.iter().map(|[l, _]| -gain_to_db(*l)).collect()
}

/// Hits as hard as can be.
fn hard(at: &[u64]) -> Vec<Begin> {
    at.iter().map(|at| Begin { at: *at, velocity: 127, moves_percent: 100 }).collect()
}

/// The line between points by definition, in dB, at a part of the length.
fn defined(shape: &BeatShape, part: f64) -> f64 {
    let at = 100.0 * part;
    let next = shape.points.iter().position(|p| p.at_percent > at);
    let down = match next {
        Some(0) => shape.points[0].down_percent,
        None => shape.points.last().unwrap().down_percent,
        Some(n) => {
            let (a, b) = (&shape.points[n - 1], &shape.points[n]);
            let u = (at - a.at_percent) / (b.at_percent - a.at_percent);
            let k = libm::exp2(-3.0 * a.bend_percent / 100.0);
            a.down_percent + (b.down_percent - a.down_percent) * u / (u + (1.0 - u) * k)
        }
    };
    down / 100.0 * shape.base.depth_db
}

/// Frames of a fade at the start of playing, which is no part of the shape.
const FADE: usize = 600;

#[test]
fn on_the_beat_it_is_what_its_points_say_at_twenty_tempi_and_four_rates() {
    let gentle = vec![point(0.0, 0.0, 0.0), point(20.0, 100.0, 40.0), point(45.0, 30.0, -70.0), point(90.0, 0.0, 0.0)];
    for step in 0..20 {
        let tempo = 41.7 + 11.3 * f64::from(step);
        let rate = [44_100, 48_000, 88_200, 96_000][step as usize % 4];
        let length = ShapeLength::ALL[step as usize % ShapeLength::ALL.len()];
        let shape = shape(gentle.clone(), length, 18.0);
        let plan = at_tempo(&shape, tempo);
        let period = shape.frames(Place { sample_rate: rate, tempo_bpm: tempo, bar_quarters: 4.0 });
        // Ten minutes in, it has not drifted.
        for from in [0, 600 * u64::from(rate) + 12_345] {
            let found = taken(&plan, rate, (from, 30_000), 512, Starts::Beat, None);
            for (n, db) in found.iter().enumerate().skip(FADE) {
                let at = (from + n as u64) as f64 / period;
                let wanted = defined(&shape, at - at.floor());
                assert!((db - wanted).abs() < 2e-3, "{tempo} bpm, {rate}, {n}: {db} for {wanted}");
            }
        }
    }
}

#[test]
fn at_its_points_it_is_exact() {
    let shape = shape(
        vec![point(0.0, 0.0, 0.0), point(25.0, 100.0, 80.0), point(50.0, 40.0, -80.0), point(75.0, 0.0, 0.0)],
        ShapeLength::Quarter,
        24.0,
    );
    // 120 bpm at 48 kHz: points fall on frames.
    let found = taken(&at_tempo(&shape, 120.0), RATE, (24_000, 48_000), 480, Starts::Beat, None);
    for (at, db) in [(24_000, 0.0), (30_000, 24.0), (36_000, 9.6), (42_000, 0.0)] {
        assert!((found[at] - db).abs() < 1e-9, "{} at {at}", found[at]);
    }
}

#[test]
fn its_picture_is_what_it_does() {
    for start in 0..4 {
        let mut shape = shape(BeatShape::starts().swap_remove(start).1, ShapeLength::Quarter, 12.0);
        shape.base.length = ShapeLength::Half;
        let drawn = shape.curve_db(Place { sample_rate: RATE, tempo_bpm: 120.0, bar_quarters: 4.0 }, 480);
        let found = taken(&at_tempo(&shape, 120.0), RATE, (0, 96_000), 512, Starts::Beat, None);
        for (n, db) in drawn[..480].iter().enumerate() {
            assert!((db - found[48_000 + 100 * n]).abs() < 1e-9, "{db} at {n}");
        }
        assert_eq!(drawn.len(), 481);
    }
}

#[test]
fn points_closer_than_a_millisecond_become_a_line_of_one() {
    let steps = shape(
        vec![point(0.0, 100.0, 0.0), point(50.0, 100.0, 0.0), point(50.0, 0.0, 0.0), point(100.0, 0.0, 0.0)],
        ShapeLength::Quarter,
        12.0,
    );
    let found = taken(&at_tempo(&steps, 120.0), RATE, (0, 72_000), 1000, Starts::Beat, None);
    // A step of 12 dB in 48 frames, at the middle and where it begins anew.
    let steepest = found[FADE..].windows(2).map(|w| (w[1] - w[0]).abs()).fold(0.0, f64::max);
    assert!((steepest - 12.0 / 48.0).abs() < 1e-6, "{steepest}");
    assert!((found[12_000 + 24] - 6.0).abs() < 1e-6 && (found[24_000 + 24] - 6.0).abs() < 1e-6);
    assert!(found[24_000 - 1] < 1e-9 && (found[24_000 + 48] - 12.0).abs() < 1e-9);
}

#[test]
fn as_many_points_as_there_may_be_fit_into_the_shortest_shape() {
    let mut dice = Dice::new(&[3]);
    let mut crowded: Vec<ShapePoint> = (0..beat_shape::POINTS)
        .map(|_| point(30.0 * dice.unit(), 100.0 * dice.unit(), 100.0 * dice.spread()))
        .collect();
    crowded.sort_by(|a, b| a.at_percent.total_cmp(&b.at_percent));
    for points in [crowded.clone(), crowded.iter().map(|p| point(100.0, p.down_percent, 0.0)).collect()] {
        let found = taken(
            &at_tempo(&shape(points, ShapeLength::Sixteenth, 60.0), 300.0),
            RATE,
            (0, 20_000),
            64,
            Starts::Beat,
            None,
        );
        assert!(found.iter().all(|db| (-1e-9..=60.001).contains(db)), "{found:?}");
    }
}

#[rstest]
fn block_sizes_and_where_playing_began_make_no_difference(
    #[values(0, 1, 2, 3)] start: usize,
    #[values(ShapeBand::Whole, ShapeBand::Low)] part: ShapeBand,
) {
    let mut shape = BeatShape { points: BeatShape::starts().swap_remove(start).1, ..BeatShape::default() };
    shape.base.band = part;
    let plan = at_tempo(&shape, 97.31);
    let hits = hard(&[3_000, 9_000, 9_020, 21_000, 60_000, 61_000]);
    for starts in [Starts::Beat, Starts::Hits(&hits)] {
        let whole = taken(&plan, RATE, (0, 70_000), 70_000, starts, None);
        for block in [1, 7, 128, 1023] {
            assert_eq!(taken(&plan, RATE, (0, 70_000), block, starts, None), whole, "blocks of {block}");
        }
        if part == ShapeBand::Whole {
            let later = taken(&plan, RATE, (40_000, 30_000), 333, starts, None);
            assert_eq!(later[FADE..], whole[40_000 + FADE..]);
        }
    }
}

#[test]
fn each_hit_begins_it_anew_and_behind_its_end_nothing_is_taken_away() {
    let shape = shape(vec![point(0.0, 100.0, 0.0), point(100.0, 50.0, 0.0)], ShapeLength::Eighth, 10.0);
    let hits = hard(&[1_000, 7_000, 7_020, 40_000]);
    let found = taken(&at_tempo(&shape, 120.0), RATE, (0, 60_000), 256, Starts::Hits(&hits), None);
    assert!(found[..1000].iter().all(|db| *db == 0.0));
    // The step lasts 48 frames; the shape 12,000.
    assert!((found[1_024] - 5.0).abs() < 1e-9 && (found[1_048] - 10.0).abs() < 1e-3);
    let before = 10.0 - 5.0 * (6_000.0 - 48.0) / (12_000.0 - 48.0);
    assert!((found[7_000] - before).abs() < 1e-9, "the second goes on from where it is");
    assert!((found[7_048] - 10.0).abs() < 1e-9, "a hit 20 frames later is the same hit");
    assert!(found[19_048..40_000].iter().all(|db| *db == 0.0));
    assert!((found[40_024] - 5.0).abs() < 1e-9);
}

/// One goes half as deep in dB where its velocity is half, with all of the depth by velocity; without, all go as deep.
#[rstest]
fn softer_hits_go_as_much_shallower_as_is_asked_for(
    #[values(0.0, 25.0, 50.0, 100.0)] percent: f64,
    #[values(1, 32, 64, 127)] velocity: u8,
) {
    let mut shape = shape(vec![point(0.0, 100.0, 0.0), point(100.0, 0.0, 0.0)], ShapeLength::Eighth, 10.0);
    shape.base.velocity_percent = percent;
    let hits = [(1_000, 127), (30_000, velocity)].map(|(at, velocity)| Begin { at, velocity, moves_percent: 100 });
    let part = 1.0 - percent / 100.0 * (1.0 - f64::from(velocity) / 127.0);
    let whole = taken(&at_tempo(&shape, 120.0), RATE, (0, 60_000), 256, Starts::Hits(&hits), None);
    for n in 0..12_000 {
        assert!((whole[30_000 + n] - part * whole[1_000 + n]).abs() < 1e-6, "frame {n}");
    }
    for block in [1, 61] {
        assert_eq!(taken(&at_tempo(&shape, 120.0), RATE, (0, 60_000), block, Starts::Hits(&hits), None), whole);
    }
}

#[test]
fn of_a_key_that_is_heard_onsets_are_found_within_two_milliseconds_and_not_twice() {
    let shape = shape(BeatShape::starts().swap_remove(0).1, ShapeLength::Eighth, 12.0);
    let hits = [2_000, 14_000, 26_500, 50_000];
    // A low drum: its wave is long, its ring longer than the spacing.
    let key: Vec<Frame> = (0..70_000)
        .map(|n| {
            let age = hits.iter().rev().find(|at| **at <= n).map(|at| n - at);
            let x = age.map_or(0.0, |t| libm::exp(-(t as f64) / 6000.0) * libm::cos(t as f64 * 0.0072));
            [0.5 * x; 2]
        })
        .collect();
    let found = taken(&at_tempo(&shape, 120.0), RATE, (0, 70_000), 128, Starts::Key, Some(&key));
    let starts: Vec<usize> = (1..found.len()).filter(|n| found[n - 1] < 0.01 && found[*n] >= 0.01).collect();
    assert_eq!(starts.len(), hits.len(), "{starts:?}");
    assert!(starts.iter().zip(hits).all(|(found, hit)| (hit..hit + 96).contains(found)), "{starts:?}");
    for block in [1, 37, 1024] {
        assert_eq!(taken(&at_tempo(&shape, 120.0), RATE, (0, 70_000), block, Starts::Key, Some(&key)), found);
    }
}

#[test]
fn of_a_steady_key_nothing_begins_but_once() {
    let shape = shape(BeatShape::starts().swap_remove(0).1, ShapeLength::Sixteenth, 12.0);
    for hz in [40.0, 55.0, 200.0, 3000.0] {
        let key: Vec<Frame> =
            (0..96_000).map(|n| [0.3 * libm::sin(n as f64 * hz * std::f64::consts::TAU / 48_000.0); 2]).collect();
        let found = taken(&at_tempo(&shape, 120.0), RATE, (0, 96_000), 128, Starts::Key, Some(&key));
        assert!(found[12_000..].iter().all(|db| *db == 0.0), "{hz} Hz");
    }
}

#[test]
fn stopped_or_with_a_silent_key_it_is_transparent_to_the_bit() {
    let sound = music(5_000);
    for part in ShapeBand::ALL {
        let mut shape = BeatShape::default();
        shape.base.band = *part;
        let mut slot = slot_of(&plan(Settings::BeatShape(shape)), 500, RATE);
        let silence = vec![[0.0; 2]; 500];
        for (playing, starts) in [(false, Starts::Beat), (true, Starts::Key), (true, Starts::Hits(&[]))] {
            for (n, piece) in sound.chunks(500).enumerate() {
                let mut out = piece.to_vec();
                let now = Moment { playing, position: 500 * n as u64, starts };
                slot.process_at(&mut out, Some(&silence), Silent::NO, &now);
                assert_eq!(out, piece, "{part:?}, {starts:?}");
            }
        }
    }
}

/// Starting, stopping, jumping and other settings, whatever is taken away meanwhile.
#[test]
fn starts_stops_and_jumps_make_no_step() {
    let mut dice = Dice::new(&[11]);
    let mut slot = slot_of(&plan(Settings::BeatShape(BeatShape::default())), 480, RATE);
    let (mut position, mut playing, mut last) = (0, false, 1.0);
    for n in 0..2_000 {
        match dice.roll() % 12 {
            0 => playing = !playing,
            1 => position = dice.roll() % 500_000,
            2 => {
                let mut other = BeatShape::default();
                other.base.depth_db = 20.0 * dice.unit();
                slot.set(&plan(Settings::BeatShape(other)).course(RATE));
            }
            _ => {}
        }
        let mut out = vec![[1.0; 2]; 100];
        slot.process_at(&mut out, None, Silent::NO, &Moment { playing, position, starts: Starts::Beat });
        position += 100;
        for [x, _] in out {
            // 20 dB in a millisecond are 0.42 dB a frame.
            assert!((gain_to_db(x) - gain_to_db(last)).abs() < 0.9, "block {n}");
            last = x;
        }
    }
}

#[test]
fn a_part_of_the_sound_leaves_the_rest_alone() {
    // What a band takes away far from it, to 12 dB of depth.
    let gain_db = |part: ShapeBand, hz: f64| {
        let mut shape = shape(vec![point(0.0, 100.0, 0.0)], ShapeLength::Bar, 12.0);
        (shape.base.band, shape.base.corner_hz) = (part, 1000.0);
        let mut slot = slot_of(&plan(Settings::BeatShape(shape)), 512, RATE);
        let tone: Vec<Frame> =
            (0..48_000).map(|n| [libm::sin(n as f64 * hz * std::f64::consts::TAU / 48_000.0); 2]).collect();
        let mut out = tone.clone();
        for (n, piece) in out.chunks_mut(512).enumerate() {
            let now = Moment { playing: true, position: 512 * n as u64, starts: Starts::Beat };
            slot.process_at(piece, None, Silent::NO, &now);
        }
        let power = |x: &[Frame]| x[24_000..].iter().map(|f| f[0] * f[0]).sum::<f64>();
        10.0 * libm::log10(power(&out) / power(&tone))
    };
    for (part, inside, outside) in
        [(ShapeBand::Low, 100.0, 4000.0), (ShapeBand::High, 8000.0, 250.0), (ShapeBand::Around, 1000.0, 10_000.0)]
    {
        let (inside, outside) = (gain_db(part, inside), gain_db(part, outside));
        assert!((inside + 12.0).abs() < 0.3, "{part:?}: {inside} inside");
        assert!(outside.abs() < 0.5, "{part:?}: {outside} outside");
    }
}
