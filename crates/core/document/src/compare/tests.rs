use super::*;
use crate::edit::tests::{any_edit, any_hits_edit, kit};
use crate::edit::{
    AddProcessor, Edit, NewBus, NewPath, ProcessorChange, SetOutput, SetProcessor, SetStrips, StripChange, apply,
};
use crate::session::Session;
use crate::session::{Key, Processor, StripSend};
use lane_dsp::{Clipper, Compressor, Settings};
use lane_units::{ProcessorId, StripId};
use proptest::prelude::*;
use rstest::rstest;

/// All but the next free id, which never falls.
fn same(a: &Session, b: &Session) -> Session {
    Session { next_id: b.next_id, ..a.clone() }
}

/// Takes over one difference after another until none is left.
fn take_all(now: &Session, then: &Session, pick: u32) -> Session {
    let mut s = now.clone();
    let first = differences(&s, then).len();
    for step in 0..2 * first + 4 {
        let left = differences(&s, then);
        let Some(difference) = left.get(pick as usize % left.len().max(1)) else { return s };
        apply(&mut s, &difference.edit).unwrap_or_else(|e| panic!("{step}: {difference:?}: {e}"));
    }
    panic!("some differences stay: {:?}", differences(&s, then).iter().map(|d| &d.key).collect::<Vec<_>>());
}

/// A session without what its mix is held against, and the audio of that.
fn mix(s: &Session) -> Session {
    Session { references: Vec::new(), assets: Vec::new(), ..s.clone() }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 96, failure_persistence: None, rng_seed: proptest::test_runner::RngSeed::Fixed(7), ..ProptestConfig::default() })]
    /// Taking over every difference of two states turns one into the other, in any order, there and back.
    #[test]
    fn every_difference_taken_over_gives_the_other_state(
        edits in prop::collection::vec(prop_oneof![any_edit(), any_hits_edit()], 1..40),
        cut in 0.0..1.0f64,
        pick in 0u32..7,
    ) {
        let mut now = kit();
        let mut then = now.clone();
        for (n, edit) in edits.iter().enumerate() {
            if n as f64 <= cut * edits.len() as f64 {
                then = now.clone();
            }
            let _ = apply(&mut now, edit);
        }
        prop_assert!(differences(&now, &now).is_empty());
        let back = take_all(&now, &then, pick);
        prop_assert_eq!(same(&back, &then), then.clone());
        let there = take_all(&then, &now, pick);
        prop_assert_eq!(same(&there, &now), now.clone());
        // All of it in one step is the same, and can be undone.
        let mut whole = now.clone();
        if now != then {
            let applied = apply(&mut whole, &go_back(&now, &then, &"Before".into())).unwrap();
            prop_assert_eq!(mix(&same(&whole, &then)), mix(&then));
            prop_assert_eq!(&whole.references, &now.references, "they are no part of the mix");
            applied.back.apply(&mut whole).unwrap();
            prop_assert_eq!(same(&whole, &now), now);
        }
    }
}

fn strip(s: &Session, at: usize) -> StripId {
    s.voices[at].channel
}

fn changed(edits: &[Edit]) -> (Session, Session) {
    let then = kit();
    let mut now = then.clone();
    for edit in edits {
        apply(&mut now, edit).unwrap();
    }
    (now, then)
}

fn said(now: &Session, then: &Session) -> Vec<(String, String)> {
    differences(now, then).into_iter().map(|d| (d.now, d.then)).collect()
}

#[test]
fn values_are_said_with_units() {
    let first = strip(&kit(), 0);
    let set = |change| Edit::SetStrips(SetStrips { strips: vec![first], change });
    let clipper = Settings::Clipper(Clipper { ceiling_dbfs: -9.0, ..Clipper::default() });
    let (now, then) = changed(&[
        set(StripChange::FaderDb(-6.5)),
        set(StripChange::PanPercent(-30.0)),
        set(StripChange::OffsetFrames(-37)),
        Edit::AddProcessor(AddProcessor { strips: vec![first], settings: clipper.clone(), key: None, at: None }),
    ]);
    let pair = |a: &str, b: &str| (a.to_owned(), b.to_owned());
    let expected = [
        pair("offset -37 samples", "offset 0 samples"),
        pair("fader -6.5 dB", "fader 0.0 dB"),
        pair("pan 30 L", "pan C"),
        pair("Clipper", "no clipper"),
    ];
    assert_eq!(said(&now, &then), expected);
    // Another state of the same processor.
    let mut later = now.clone();
    let processor = later.strip(first).unwrap().chain[0].id;
    let to = Settings::Clipper(Clipper { ceiling_dbfs: -8.5, ..Clipper::default() });
    for change in [ProcessorChange::Settings(to), ProcessorChange::On(false)] {
        apply(&mut later, &Edit::SetProcessor(SetProcessor { strip: first, processor, change })).unwrap();
    }
    assert_eq!(said(&later, &now), [pair("Clipper: off, ceiling -8.5 dBFS", "Clipper: on, ceiling -9.0 dBFS")]);
}

/// Only one of several differences is taken over; what else changed stays.
#[test]
fn one_difference_is_taken_over_and_undone() {
    let first = strip(&kit(), 0);
    let set = |change| Edit::SetStrips(SetStrips { strips: vec![first], change });
    let (mut now, then) = changed(&[set(StripChange::FaderDb(-6.5)), set(StripChange::WidthPercent(40.0))]);
    let before = now.clone();
    let fader = differences(&now, &then).into_iter().find(|d| d.now.starts_with("fader")).unwrap();
    assert_eq!((fader.strip, fader.kind), (Some(first), DifferenceKind::Levels));
    let applied = apply(&mut now, &fader.edit).unwrap();
    let strip = now.strip(first).unwrap();
    assert_eq!((strip.fader_db, strip.width_percent), (0.0, 40.0));
    applied.back.apply(&mut now).unwrap();
    assert_eq!(now, before);
}

/// What cannot stand alone is one difference: a path with the sends to it, and the key that hears it.
#[rstest]
#[case::the_path_is_new(false)]
#[case::the_path_is_gone(true)]
fn what_hangs_together_is_one_difference(#[case] gone: bool) {
    let base = kit();
    let feeders = vec![strip(&base, 0), strip(&base, 1)];
    let processor = Processor::new(ProcessorId(1), Settings::Compressor(Compressor::default()));
    let mut with = base.clone();
    let made = Edit::NewPath(NewPath { name: "Press".into(), feeders: feeders.clone(), processors: vec![processor] });
    apply(&mut with, &made).unwrap();
    let path = with.strips.iter().find(|x| x.name == "Press").unwrap().id;
    let key = Some(Key::new(path));
    let duck = Settings::Compressor(Compressor::default());
    apply(
        &mut with,
        &Edit::AddProcessor(AddProcessor { strips: vec![strip(&base, 2)], settings: duck, key, at: None }),
    )
    .unwrap();
    let (now, then) = if gone { (base, with) } else { (with, base) };
    let found = differences(&now, &then);
    assert_eq!(found.len(), 1, "{found:?}");
    assert_eq!((found[0].kind, found[0].strip), (DifferenceKind::Rows, Some(path)));
    let (there, not) = if gone { (&found[0].then, &found[0].now) } else { (&found[0].now, &found[0].then) };
    assert!(there.contains("return Press") && not.contains("no Press"), "{there} / {not}");
    assert!(found[0].also.contains(&feeders[0]) && found[0].also.contains(&feeders[1]));
}

/// Routes that would be a loop one by one are taken over together.
#[test]
fn routes_that_need_each_other_go_together() {
    let mut base = kit();
    for name in ["A", "B"] {
        apply(&mut base, &Edit::NewBus(NewBus { name: name.into(), feeders: vec![] })).unwrap();
    }
    let named = |s: &Session, name: &str| s.strips.iter().find(|x| x.name == name).unwrap().id;
    let (a, b) = (named(&base, "A"), named(&base, "B"));
    let to = |s: &mut Session, from, to| {
        apply(s, &Edit::SetOutput(SetOutput { strips: vec![from], output: Some(to) })).unwrap()
    };
    let (mut now, mut then) = (base.clone(), base);
    to(&mut now, a, b);
    to(&mut then, b, a);
    let found = differences(&now, &then);
    assert!(!found.is_empty());
    let all = take_all(&now, &then, 0);
    assert_eq!(same(&all, &then), then);
}

/// A difference that was seen before others changed the session is taken over by what it names.
#[test]
fn what_is_taken_over_leaves_what_came_meanwhile() {
    let first = strip(&kit(), 0);
    let second = strip(&kit(), 1);
    let (mut now, then) =
        changed(&[Edit::SetStrips(SetStrips { strips: vec![first], change: StripChange::FaderDb(-6.5) })]);
    let edit = differences(&now, &then).remove(0).edit;
    apply(&mut now, &Edit::SetStrips(SetStrips { strips: vec![second], change: StripChange::FaderDb(-3.0) })).unwrap();
    apply(&mut now, &Edit::NewBus(NewBus { name: "New".into(), feeders: vec![] })).unwrap();
    apply(&mut now, &edit).unwrap();
    assert_eq!((now.strip(first).unwrap().fader_db, now.strip(second).unwrap().fader_db), (0.0, -3.0));
    assert!(now.strips.iter().any(|x| x.name == "New"));
}

#[test]
fn what_would_not_be_whole_is_refused() {
    let mut s = kit();
    let before = s.clone();
    let mut broken = s.strips[0].clone();
    broken.output = Some(StripId(4000));
    broken.sends.push(StripSend::new(StripId(4001)));
    let mut other = s.clone();
    other.strips[0] = broken;
    assert!(apply(&mut s, &go_back(&before, &other, &"Bent".into())).is_err());
    let mut rate = before.clone();
    rate.header.sample_rate = 96_000;
    assert!(apply(&mut s, &go_back(&before, &rate, &"Rate".into())).is_err());
    assert_eq!(s, before);
}
