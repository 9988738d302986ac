//! Values of several rows that move together.

use super::*;
use crate::session::Session;
use crate::session::{Strip, StripSend};
use lane_dsp::{Compressor, Settings, Transient};
use lane_units::OFF_DB;

const ROWS: [&str; 3] = ["Kick", "Snare", "Hat"];

fn strip_mut<'a>(s: &'a mut Session, name: &str) -> &'a mut Strip {
    let id = channel(s, name);
    s.strips.iter_mut().find(|x| x.id == id).unwrap()
}

/// The kit with faders.
fn at_faders(faders: [f64; 3]) -> Session {
    let mut s = kit();
    for (name, db) in ROWS.into_iter().zip(faders) {
        strip_mut(&mut s, name).fader_db = db;
    }
    s
}

fn faders(s: &Session) -> Vec<f64> {
    ROWS.iter().map(|name| s.strip(channel(s, name)).unwrap().fader_db).collect()
}

fn moved(s: &Session, value: MovedValue, by: f64) -> Edit {
    Edit::MoveValues(MoveValues { strips: ROWS.iter().map(|n| channel(s, n)).collect(), value, by })
}

#[rstest]
#[case::up([-12.0, 0.0, -6.0], 0.5, [-11.5, 0.5, -5.5])]
#[case::trim_everything([-12.0, 0.0, -6.0], -10.0, [-22.0, -10.0, -16.0])]
#[case::in_tenths([0.1, 0.2, 0.3], 0.2, [0.3, 0.4, 0.5])]
#[case::all_stop_at_a_limit([-12.0, 10.0, -6.0], 5.0, [-10.0, 12.0, -4.0])]
#[case::none_falls_to_off([-12.0, -90.0, -6.0], -20.0, [-21.9, -99.9, -15.9])]
#[case::off_stays_off([OFF_DB, 0.0, -6.0], 3.0, [OFF_DB, 3.0, -3.0])]
#[case::all_of_them_off([OFF_DB; 3], 40.0, [-60.0; 3])]
fn faders_keep_their_balance(#[case] before: [f64; 3], #[case] by: f64, #[case] after: [f64; 3]) {
    let mut s = at_faders(before);
    let first = s.clone();
    let edit = moved(&s, MovedValue::FaderDb, by);
    let applied = apply(&mut s, &edit).unwrap();
    assert_eq!(faders(&s), after);
    assert_eq!(applied.label, "Fader of 3 rows");
    applied.back.apply_exactly(&mut s).unwrap();
    assert_eq!(s, first, "one step back");
}

#[test]
fn a_drag_counts_from_where_it_began_however_far_it_went() {
    // A control under the pointer is tried from the same document each time.
    let start = at_faders([-12.0, 10.0, -6.0]);
    for by in [1.0, 30.0, 2.0] {
        let mut tried = start.clone();
        apply(&mut tried, &moved(&start, MovedValue::FaderDb, by)).unwrap();
        let least = by.min(2.0);
        assert_eq!(faders(&tried), [-12.0 + least, 10.0 + least, -6.0 + least]);
    }
}

#[test]
fn pans_widths_and_trims_move_too() {
    let mut s = kit();
    strip_mut(&mut s, "Kick").pan_percent = -95.0;
    for (value, by) in [(MovedValue::PanPercent, -20.0), (MovedValue::WidthPercent, 30.0), (MovedValue::TrimDb, -10.0)]
    {
        let edit = moved(&s, value, by);
        apply(&mut s, &edit).unwrap();
    }
    let values: Vec<_> = ROWS
        .iter()
        .map(|n| s.strip(channel(&s, n)).unwrap())
        .map(|x| (x.pan_percent, x.width_percent, x.trim_db))
        .collect();
    assert_eq!(values, [(-100.0, 130.0, -10.0), (-5.0, 130.0, -10.0), (-5.0, 130.0, -10.0)]);
}

#[test]
fn sends_to_one_return_move_where_there_are_any() {
    let mut s = kit();
    let feeders = vec![channel(&s, "Kick"), channel(&s, "Hat")];
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Room".into(), feeders, silent: false })).unwrap();
    let to = s.strips.iter().find(|x| x.name == "Room").unwrap().id;
    strip_mut(&mut s, "Hat").sends[0] = StripSend { level_db: -9.0, ..StripSend::new(to) };
    let edit = moved(&s, MovedValue::SendDb { to }, -3.0);
    apply(&mut s, &edit).unwrap();
    let levels: Vec<_> = s.strips.iter().flat_map(|x| &x.sends).map(|x| x.level_db).collect();
    assert_eq!(levels, [-3.0, -12.0]);
}

#[test]
fn values_of_one_kind_move_by_the_same_amount_or_ratio() {
    let mut s = kit();
    let compressor = |threshold_dbfs, attack_ms| {
        Settings::Compressor(Compressor { threshold_dbfs, attack_ms, ..Compressor::default() })
    };
    for (name, settings) in [
        ("Kick", compressor(-20.0, 4.0)),
        ("Snare", compressor(-32.0, 10.0)),
        ("Hat", Settings::Transient(Transient::default())),
    ] {
        let strips = vec![channel(&s, name)];
        apply(&mut s, &Edit::AddProcessor(AddProcessor { strips, settings, key: None, at: None })).unwrap();
    }
    let hat = s.strip(channel(&s, "Hat")).unwrap().clone();
    for (value, by) in [("threshold_dbfs", -4.0), ("attack_ms", 1.0)] {
        let value = MovedValue::Processor { kind: "compressor".into(), value: value.into() };
        let edit = moved(&s, value, by);
        apply(&mut s, &edit).unwrap();
    }
    let set = |name: &str| match &s.strip(channel(&s, name)).unwrap().chain[0].settings {
        Settings::Compressor(c) => (c.threshold_dbfs, c.attack_ms),
        _ => unreachable!(),
    };
    assert_eq!([set("Kick"), set("Snare")], [(-24.0, 8.0), (-36.0, 20.0)]);
    assert_eq!(*s.strip(channel(&s, "Hat")).unwrap(), hat, "another kind stays");
}

#[rstest]
#[case::nothing_there(MovedValue::MixPercent { kind: "reverb".into() }, 1.0)]
#[case::no_such_value(MovedValue::Processor { kind: "compressor".into(), value: "colour".into() }, 1.0)]
#[case::no_number(MovedValue::FaderDb, f64::NAN)]
fn what_moves_nothing_is_refused(#[case] value: MovedValue, #[case] by: f64) {
    let mut s = kit();
    let edit = moved(&s, value, by);
    assert_eq!(apply(&mut s, &edit).unwrap_err().to_string(), "nothing was chosen");
}

proptest! {
    /// Whatever the faders and the way: differences stay, unless something is off, and every value is allowed.
    #[test]
    fn differences_stay(before in prop::array::uniform3(-1000i32..=120), by in -2000i32..2000) {
        let mut s = at_faders(before.map(|tenths| f64::from(tenths) / 10.0));
        let first = faders(&s);
        let edit = moved(&s, MovedValue::FaderDb, f64::from(by) / 10.0);
        apply(&mut s, &edit).unwrap();
        let (first_on, now_on): (Vec<f64>, Vec<f64>) =
            first.iter().zip(faders(&s)).filter(|(db, _)| **db > OFF_DB).map(|(a, b)| (*a, b)).unzip();
        for (a, b) in first_on.windows(2).zip(now_on.windows(2)) {
            prop_assert!(((a[1] - a[0]) - (b[1] - b[0])).abs() < 1e-6);
        }
        prop_assert!(now_on.iter().all(|db| *db > OFF_DB && *db <= 12.0));
    }
}
