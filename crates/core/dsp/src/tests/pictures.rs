//! What pictures say is what is heard.

use super::*;
use crate::delay::{Echo, NoteValue, Sides};
use crate::envelope_filter::Pass;

#[rstest]
fn the_curve_of_an_envelope_filter_is_what_a_sine_meets(
    #[values(Pass::Low, Pass::Band, Pass::High)] pass: Pass,
    #[values(0.71, 4.0)] q: f64,
) {
    // What sounds stays so far under full level that the corner does not move.
    let filter =
        EnvelopeFilter { pass, q, cutoff_hz: 900.0, amount_oct: 2.0, full_dbfs: 0.0, ..EnvelopeFilter::default() };
    let settings = Settings::EnvelopeFilter(filter.clone());
    let freqs = [100.0, 450.0, 900.0, 2000.0, 9000.0];
    let drawn = settings.response_db(&freqs, RATE).unwrap();
    for (hz, db) in freqs.iter().zip(&drawn.rest) {
        let found = gain_to_db(amplitude(&settled(settings.clone(), *hz, -90.0), *hz as usize)) + 90.0;
        assert!((found - db).abs() < 0.01, "{found} dB at {hz} Hz, drawn as {db}");
    }
    let moved = EnvelopeFilter { cutoff_hz: 3600.0, amount_oct: 0.0, ..filter };
    assert_eq!(drawn.moved, Settings::EnvelopeFilter(moved).response_db(&freqs, RATE).unwrap().rest);
}

#[test]
fn only_filters_have_a_response() {
    let with: Vec<_> =
        Settings::all().into_iter().filter(|s| s.response_db(&[100.0], RATE).is_some()).map(|s| s.name()).collect();
    assert_eq!(with, ["Equaliser", "Envelope filter"]);
}

#[test]
fn the_drawn_echoes_are_those_that_are_heard() {
    for sides in [Sides::Straight, Sides::PingPong] {
        let delay = Delay { note: NoteValue::Sixteenth, feedback_percent: 40.0, sides, ..Delay::default() };
        let place = Place { sample_rate: RATE, tempo_bpm: 120.0, bar_quarters: 4.0 };
        let drawn = delay.echoes(place);
        assert_eq!(drawn.len(), 8, "until -60 dB, at 8 dB an echo");
        let mut sound = vec![[0.0; 2]; 8 * 6000 + 1];
        sound[0] = [1.0; 2];
        let out = run(&mut slot_of(&plan(Settings::Delay(delay)), 480, RATE), &sound, None, 480);
        for Echo { at_s, level_db, side } in drawn {
            let [l, r] = out[(at_s * f64::from(RATE)).round() as usize];
            assert!((gain_to_db(l.max(r)) - level_db).abs() < 1e-9, "{l} {r}, drawn as {level_db} dB");
            assert_eq!((r > 0.0) as i8 - (l > 0.0) as i8, side);
        }
    }
}

#[rstest]
#[case::no_feedback(0.0, 1)]
#[case::at_most(95.0, 64)]
fn echoes_end(#[case] feedback_percent: f64, #[case] count: usize) {
    let place = Place { sample_rate: RATE, tempo_bpm: 90.0, bar_quarters: 4.0 };
    assert_eq!(Delay { feedback_percent, ..Delay::default() }.echoes(place).len(), count);
}

#[rstest]
fn a_transfer_curve_is_what_a_steady_level_meets(#[values(-50.0, -24.0, -12.0, 0.0)] level: f64) {
    let drawn = busy_kinds().filter(|s| s.steady_db(level).is_some());
    assert!(drawn.map(|settings| meets_its_curve(settings, level)).count() >= 4);
}

fn meets_its_curve(settings: Settings, level: f64) {
    let settings = match settings {
        Settings::Compressor(s) => Settings::Compressor(Compressor { detect: compressor::Detect::Peak, ..s }),
        other => other,
    };
    // A level that stays, so that neither filters nor detectors have anything to follow.
    let a = db_to_gain(level);
    let out = run(&mut slot_of(&plan(settings.clone()), 480, RATE), &vec![[a; 2]; 96_000], None, 480);
    let (found, drawn) = (gain_to_db(out[95_999][0]), settings.steady_db(level).unwrap());
    assert!((found - drawn).abs() < 0.05, "{found} dBFS, drawn as {drawn}");
}
