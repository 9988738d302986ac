//! What is worth a look once paths were heard, and what mends it.

use super::super::*;
use lane_document::edit::{
    AddVoices, DismissCheck, Edit, InsertProcessors, NewPath, NewVoice, SetStrips, StripChange, apply,
};
use lane_document::session::{Family, Polarity, Processor, Session, Strip, StripKind, VoiceSource};
use lane_dsp::{Compressor, Settings};
use lane_units::{ProcessorId, StripId};
use rstest::rstest;

fn with_path() -> (Session, StripId) {
    let mut session = Session::new("Copper", 48_000);
    let kick = NewVoice {
        name: "Kick".into(),
        family: Family::Low,
        source: VoiceSource::Empty,
        output: None,
        trim_db: 0.0,
        hits: vec![],
    };
    apply(&mut session, &Edit::from(AddVoices { voices: vec![kick], assets: vec![] })).unwrap();
    let feeders = session.voices.iter().map(|v| v.channel).collect();
    let processors = vec![Processor::new(ProcessorId(0), Settings::Compressor(Compressor::default()))];
    let path = NewPath { name: "Press".into(), feeders, processors };
    apply(&mut session, &Edit::from(path)).unwrap();
    let strip = session.strips.iter().find(|s| s.kind == StripKind::Return).unwrap().id;
    (session, strip)
}

fn heard(strip: StripId, verdict: Verdict, delay_frames: f64, inverted: bool) -> HeardPath {
    HeardPath { strip, alignment: HeardAlignment { verdict, delay_frames, inverted, gain_db: 5.0 } }
}

fn strip(session: &Session, id: StripId) -> &Strip {
    session.strip(id).unwrap()
}

#[rstest]
#[case::late(37.2, false, 0, -37)]
#[case::early(-36.8, true, 0, 37)]
#[case::on_top_of_another(37.0, true, 5, -32)]
#[case::of_polarity_alone(0.2, true, 5, 5)]
fn what_lies_off_is_mended_by_whole_frames_and_polarity(
    #[case] delay_frames: f64,
    #[case] inverted: bool,
    #[case] before: i32,
    #[case] after: i32,
) {
    let (mut session, path) = with_path();
    let set = SetStrips { strips: vec![path], change: StripChange::OffsetFrames(before) };
    apply(&mut session, &Edit::from(set)).unwrap();
    let edits = mends(&session, &[heard(path, Verdict::Off, delay_frames, inverted)]);
    assert_eq!(edits.len(), 1);
    apply(&mut session, &edits[0]).unwrap();
    let polarity = if inverted { Polarity::Inverted } else { Polarity::Normal };
    assert_eq!((strip(&session, path).offset_frames, strip(&session, path).polarity), (after, polarity));
    // As it is mended, it is mended back.
    let back = mends(&session, &[heard(path, Verdict::Off, -delay_frames, inverted)]);
    apply(&mut session, &back[0]).unwrap();
    assert_eq!((strip(&session, path).offset_frames, strip(&session, path).polarity), (before, Polarity::Normal));
}

#[rstest]
#[case(Verdict::Silent)]
#[case(Verdict::Unrelated)]
#[case(Verdict::InTime)]
#[case(Verdict::Space)]
fn what_does_not_lie_off_is_left_alone(#[case] verdict: Verdict) {
    let (session, path) = with_path();
    let readings = [heard(path, verdict, 37.0, true), heard(StripId(999), Verdict::Off, 37.0, true)];
    assert!(mends(&session, &readings).is_empty());
    assert!(path_checks(&session, &HeardPaths { returns: readings.to_vec(), bench: None }).is_empty());
}

#[rstest]
#[case(37.0, true, "37 samples late, inverted")]
#[case(-1.0, false, "1 sample early")]
#[case(0.0, true, "inverted")]
fn a_path_that_lies_off_is_said_with_what_mends_it(
    #[case] delay_frames: f64,
    #[case] inverted: bool,
    #[case] how: &str,
) {
    let (mut session, path) = with_path();
    let found = HeardPaths { returns: vec![heard(path, Verdict::Off, delay_frames, inverted)], bench: None };
    let checks = path_checks(&session, &found);
    let sentence = format!("Press is {how} beside what feeds it: together they lose 5.0 dB.");
    assert_eq!((checks.len(), &checks[0].sentence, checks[0].dismissed), (1, &sentence, false));
    assert_eq!(checks[0].repair.as_ref().map(|r| &r.edit), mends(&session, &found.returns).first());
    let key = checks[0].key.clone();
    apply(&mut session, &Edit::from(DismissCheck { key, dismissed: true })).unwrap();
    assert!(path_checks(&session, &found)[0].dismissed);
}

#[rstest]
#[case::without_a_budget(0.0, 6.2, false)]
#[case::over_it(2.0, 6.2, true)]
#[case::over_it_where_it_lifts(2.0, -6.2, true)]
#[case::at_it(6.2, 6.24, false)]
fn a_compressor_over_its_budget_is_said(#[case] budget_db: f64, #[case] deepest_db: f64, #[case] over: bool) {
    let (mut session, path) = with_path();
    let settings = Settings::Compressor(Compressor { budget_db, ..Compressor::default() });
    let processors = vec![Processor::new(ProcessorId(0), settings)];
    let insert = InsertProcessors { strips: vec![path], processors, at: None, replace: true };
    apply(&mut session, &Edit::from(insert)).unwrap();
    let processor = strip(&session, path).chain[0].id;
    let bench = HeardBench { strip: path, press: Some(HeardPress { processor, deepest_db }) };
    let checks = path_checks(&session, &HeardPaths { returns: vec![], bench: Some(bench) });
    let said: Vec<&str> = checks.iter().map(|c| c.sentence.as_str()).collect();
    let sentence = "The compressor of Press takes 6.2 dB in the loop; its budget is 2.0.";
    assert_eq!(said, if over { vec![sentence] } else { vec![] });
}
