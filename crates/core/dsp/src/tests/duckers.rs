//! Duckers that become other kinds.

use crate::duckers::{DuckKind, goes_back, turned};
use crate::{Compressor, Place, Settings, TimeIn};
use rstest::rstest;

const KINDS: [DuckKind; 6] = DuckKind::ALL;

fn at(tempo_bpm: f64) -> Place {
    Place { sample_rate: 48_000, tempo_bpm, bar_quarters: 4.0 }
}

fn whole() -> Compressor {
    Compressor { attack_ms: 4.0, hold_ms: 25.0, release_ms: 140.0, lookahead_ms: 3.0, ..Compressor::default() }
}

fn turn(settings: &Settings, to: DuckKind, depth_db: f64) -> Settings {
    turned(settings, to, depth_db, None, at(120.0))
}

/// Attack and release as they are set, and what they are counted in.
fn times(settings: &Settings) -> ([f64; 2], [TimeIn; 2]) {
    match settings {
        Settings::Compressor(s) => ([s.attack_ms, s.release_ms], [s.attack_in, s.release_in]),
        Settings::Gate(s) => ([s.attack_ms, s.release_ms], [s.attack_in, s.release_in]),
        Settings::EnvelopeFilter(s) => ([s.attack_ms, s.release_ms], [s.attack_in, s.release_in]),
        Settings::Equaliser(s) => {
            ([s.bands[0].attack_ms, s.bands[0].release_ms], [s.bands[0].attack_in, s.bands[0].release_in])
        }
        other => panic!("{other:?} has no such times"),
    }
}

#[rstest]
fn one_that_is_turned_is_of_that_kind_within_its_ranges(
    #[values(0.0, 1.0, 6.0, 24.0, 300.0)] depth_db: f64,
    #[values(0, 1, 2, 3, 4, 5)] kind: usize,
    #[values(0, 1, 2, 3, 4, 5)] from: usize,
) {
    let made = turn(&turn(&Settings::Compressor(whole()), KINDS[from], 6.0), KINDS[kind], depth_db);
    assert_eq!(DuckKind::of(&made), Some(KINDS[kind]));
    for (param, value) in made.values() {
        assert!((param.min..=param.max).contains(&value), "{}: {value}", param.name);
    }
}

#[rstest]
#[case::gate(DuckKind::Gate)]
#[case::expander(DuckKind::Expander)]
#[case::band(DuckKind::Band)]
#[case::filter(DuckKind::Filter)]
fn times_go_along_where_they_mean_the_same(#[case] to: DuckKind) {
    let made = turn(&Settings::Compressor(whole()), to, 6.0);
    assert_eq!(times(&made).0, [4.0, 140.0]);
    assert_eq!(times(&turn(&made, DuckKind::Whole, 6.0)).0, [4.0, 140.0]);
    if let Settings::Gate(gate) = &made {
        assert_eq!((gate.hold_ms, gate.lookahead_ms), (25.0, 3.0));
    }
    let notes = Compressor { attack_in: TimeIn::SixtyFourth, release_in: TimeIn::Eighth, ..whole() };
    let made = turn(&Settings::Compressor(notes), to, 6.0);
    assert_eq!(times(&made), ([31.25, 250.0], [TimeIn::SixtyFourth, TimeIn::Eighth]));
}

#[rstest]
fn it_goes_as_deep_as_it_went(#[values(1.0, 6.0, 24.0)] depth_db: f64) {
    let whole = Settings::Compressor(whole());
    let Settings::BeatShape(shape) = turn(&whole, DuckKind::Shape, depth_db) else { panic!() };
    let Settings::Gate(gate) = turn(&whole, DuckKind::Gate, depth_db) else { panic!() };
    let Settings::Equaliser(bands) = turn(&whole, DuckKind::Band, depth_db) else { panic!() };
    assert_eq!([shape.base.depth_db, gate.range_db, -bands.bands[0].range_db], [depth_db; 3]);
}

#[test]
fn a_band_lies_where_both_share_most() {
    let whole = Settings::Compressor(whole());
    let Settings::Equaliser(made) = turned(&whole, DuckKind::Band, 6.0, Some([62.0, 250.0]), at(120.0)) else {
        panic!()
    };
    assert_eq!(made.bands[0].freq_hz, libm::round(libm::sqrt(62.0 * 250.0)));
    assert_eq!(made.bands[0].q, 0.66);
}

#[rstest]
fn there_and_back_is_the_same(
    #[values(0, 1, 2, 3, 4, 5)] kind: usize,
    #[values(83.0, 120.0, 171.3)] tempo_bpm: f64,
    #[values(
        whole(),
        Compressor { release_in: TimeIn::Eighth, hold_in: TimeIn::SixteenthTriplet, ..whole() },
        Compressor { attack_ms: 0.02, release_ms: 1.0, ..whole() },
    )]
    set: Compressor,
) {
    let (before, place) = (Settings::Compressor(set), at(tempo_bpm));
    let other = turned(&before, KINDS[kind], 6.0, None, place);
    assert_eq!(goes_back(&before, &other, place), before);
}

#[test]
fn back_with_other_times_it_has_those() {
    let before = Settings::Compressor(whole());
    let Settings::Gate(mut gate) = turn(&before, DuckKind::Gate, 6.0) else { panic!() };
    gate.release_ms = 300.0;
    let back = goes_back(&before, &Settings::Gate(gate.clone()), at(120.0));
    assert_eq!(back, Settings::Compressor(Compressor { release_ms: 300.0, ..whole() }));
    // As far as its own range lets it.
    gate.hold_ms = 900.0;
    let Settings::Compressor(back) = goes_back(&before, &Settings::Gate(gate), at(120.0)) else { panic!() };
    assert_eq!((back.hold_ms, back.release_ms), (500.0, 300.0));
}

#[test]
fn what_ducks_nothing_is_no_kind() {
    let none = Settings::all().into_iter().filter(|s| DuckKind::of(s).is_none()).count();
    assert_eq!(none, Settings::all().len() - 5);
    assert!(DuckKind::kinds().iter().all(|info| DuckKind::of(&info.default) == Some(info.kind)));
}
