//! What an edit may name and make, and what it says of itself.

use super::*;
use crate::session::Patch;
use crate::session::Session;
use crate::session::{Metre, Size, Tempo, Thing, limits};

fn ids_of(edit: &Edit) -> Vec<u32> {
    let mut ids = Vec::new();
    edit.clone().each_id(|id| ids.push(*id));
    ids
}

fn section(bars: u32) -> Edit {
    Edit::SetSection(SetSection { section: Section { bars, ..(*kit().sections[0]).clone() } })
}

fn pattern(n: usize) -> Edit {
    Edit::AddPattern(AddPattern { name: format!("P{n}").parse().unwrap(), bars: 1, copy_of: None })
}

fn refused(s: &mut Session, edit: &Edit) -> String {
    let before = s.clone();
    let error = apply(s, edit).unwrap_err().to_string();
    assert_eq!(*s, before);
    error
}

#[rstest]
#[case::after_each_step(
    vec![Edit::RemoveSection(RemoveSection { section: SectionId(4) }), Edit::RemovePattern(RemovePattern { pattern: PatternId(3) }), pattern(0)],
    "at least one pattern and one section"
)]
#[case::growing((0..40).map(|_| Edit::DoublePattern(DoublePattern { pattern: PatternId(3) })).collect(), "would last")]
#[case::many((0..1001).map(pattern).collect(), "edits in one: 1002 given")]
#[case::deep(vec![Edit::Batch { edits: (0..999).map(pattern).collect() }, pattern(0)], "edits in one: 1002 given")]
#[case::full((0..256).map(pattern).collect(), "patterns: 257 given, at most 256")]
fn a_batch_is_checked_step_by_step(#[case] edits: Vec<Edit>, #[case] says: &str) {
    let message = refused(&mut kit(), &Edit::Batch { edits });
    assert!(message.contains(says), "{message}");
}

#[test]
fn rows_of_a_batch_are_counted_together() {
    let change = StripChange::FaderDb(-3.0);
    let rows = Edit::SetStrips(SetStrips { strips: vec![StripId(2); 1000], change });
    let message = refused(&mut kit(), &Edit::Batch { edits: vec![rows; 17] });
    assert!(message.contains("rows of all edits in one: 17000 given"), "{message}");
}

#[test]
fn a_swap_of_two_outputs_passes_through_a_loop_and_is_fine() {
    let mut s = kit();
    let feeder = channel(&s, "Kick");
    apply(&mut s, &Edit::NewBus(NewBus { name: "A".into(), feeders: vec![feeder] })).unwrap();
    apply(&mut s, &Edit::NewBus(NewBus { name: "B".into(), feeders: vec![] })).unwrap();
    let id = |s: &Session, n: &str| s.strips.iter().find(|x| x.name == n).unwrap().id;
    let (a, b, mix) = (id(&s, "A"), id(&s, "B"), s.mix_bus);
    apply(&mut s, &Edit::SetOutput(SetOutput { strips: vec![a], output: Some(b) })).unwrap();
    let swap = vec![
        Edit::SetOutput(SetOutput { strips: vec![b], output: Some(a) }),
        Edit::SetOutput(SetOutput { strips: vec![a], output: Some(mix) }),
    ];
    apply(&mut s, &Edit::Batch { edits: swap }).unwrap();
    assert_eq!((s.strip(b).unwrap().output, s.strip(a).unwrap().output), (Some(a), Some(mix)));
}

#[rstest]
#[case::at_the_slowest_tempo(20.0, 300)]
#[case::at_a_usual_tempo(96.0, 1440)]
#[case::at_the_fastest_tempo(400.0, 6000)]
fn a_song_lasts_an_hour_at_any_tempo_and_no_more(#[case] bpm: f64, #[case] bars: u32) {
    let mut s = kit();
    s.header.tempo_bpm = Tempo::new(bpm).unwrap();
    s.header.metre = Metre::COMMON;
    apply(&mut s, &section(bars)).unwrap();
    let message = refused(&mut s, &section(bars + 1));
    assert!(message.contains("the song would last 60 min") && message.contains("at most 60 min 00 s"), "{message}");
}

#[test]
fn slowing_a_song_down_past_an_hour_is_refused_and_one_that_is_too_long_may_shrink() {
    let mut s = kit();
    apply(&mut s, &section(1400)).unwrap();
    let slow =
        Edit::SetHeader(SetHeader { header: Header { tempo_bpm: Tempo::new(60.0).unwrap(), ..s.header.clone() } });
    assert!(refused(&mut s, &slow).contains("the song would last"));
    // As an older program let it through.
    s.sections[0].bars = 9000;
    apply(&mut s, &Edit::RenameStrip(RenameStrip { strip: StripId(2), name: "Sum".into() })).unwrap();
    apply(&mut s, &section(8000)).unwrap();
    assert!(refused(&mut s, &section(8001)).contains("song"));
}

#[test]
fn a_recording_of_half_an_hour_fits_at_the_slowest_tempo() {
    let mut s = Session::new("Long", 48_000);
    s.header.tempo_bpm = Tempo::new(20.0).unwrap();
    let id = lane_units::AssetId("ab".repeat(32));
    let frames = limits::RECORDING_SECONDS * 48_000;
    let asset = AssetRef { id: id.clone(), name: "set.wav".into(), channels: 2, sample_rate: 48_000, frames };
    let source = VoiceSource::Recording { asset: id, start_frame: 0 };
    let add = Edit::AddVoices(AddVoices {
        voices: vec![NewVoice { trim_db: 0.0, source, ..voice("Set") }],
        assets: vec![asset],
    });
    apply(&mut s, &add).unwrap();
    assert_eq!(s.sections[0].bars, 150);
}

#[test]
fn the_audio_of_a_session_is_bounded_by_what_a_page_holds() {
    let mut s = Session::new("Much", 48_000);
    let recording = |n: u32| {
        let id = lane_units::AssetId(format!("{n:064x}"));
        let frames = 48_000 * 1200;
        let asset = AssetRef { id: id.clone(), name: "r.wav".into(), channels: 2, sample_rate: 48_000, frames };
        let source = VoiceSource::Recording { asset: id, start_frame: 0 };
        Edit::AddVoices(AddVoices {
            voices: vec![NewVoice { trim_db: 0.0, source, ..voice("R") }],
            assets: vec![asset],
        })
    };
    for n in 0..3 {
        apply(&mut s, &recording(n)).unwrap();
    }
    let message = refused(&mut s, &recording(3));
    assert!(message.contains("would take 1758 MiB") && message.contains("can hold 1536 MiB"), "{message}");
}

#[test]
fn what_older_programs_let_through_stays_and_does_not_grow() {
    let mut s = kit();
    let many = (0..300).map(|n| Pattern { id: PatternId(1000 + n), name: "P".into(), bars: 1 }.into());
    s.patterns.extend(many);
    s.next_id = 2000;
    apply(&mut s, &Edit::RemovePattern(RemovePattern { pattern: PatternId(1000) })).unwrap();
    assert!(refused(&mut s, &pattern(1)).contains("at most 300"));
    assert!(Size::none().allows(&s).is_err(), "as something new it would be refused");
}

#[test]
fn ids_that_an_edit_names_are_found_and_changed_wherever_they_stand() {
    let key = Key::new(StripId(7));
    let edit = Edit::Batch {
        edits: vec![
            Edit::AddProcessor(AddProcessor {
                strips: vec![StripId(5)],
                settings: Settings::all()[0].clone(),
                key: Some(key),
                at: None,
            }),
            Edit::Follow(Follow { voice: VoiceId(6), leader: Some(VoiceId(8)) }),
            Edit::DismissCheck(DismissCheck { key: "twice 5 9".into(), dismissed: true }),
            Edit::DismissCheck(DismissCheck { key: "name 808".into(), dismissed: true }),
            Edit::SetStemPlan(SetStemPlan { plan: StemPlan { without: vec![StripId(5)], ..StemPlan::default() } }),
        ],
    };
    assert_eq!(ids_of(&edit), [5, 7, 6, 8, 5, 9, 5]);
    let mut moved = edit.clone();
    moved.each_id(|id| *id += 100);
    assert_eq!(ids_of(&moved), [105, 107, 106, 108, 105, 109, 105]);
    let Edit::Batch { edits } = moved else { panic!("it is a batch") };
    assert_eq!(edits[2], Edit::DismissCheck(DismissCheck { key: "twice 105 109".into(), dismissed: true }));
    assert_eq!(edits[3], Edit::DismissCheck(DismissCheck { key: "name 808".into(), dismissed: true }));
}

#[test]
fn lanes_of_another_session_keep_its_ids() {
    let insertion = Insertion {
        from: kit(),
        voices: vec![VoiceId(6)],
        map: vec![StripMap { from: StripId(2), to: Some(StripId(40)) }],
        pattern: Some(PatternId(3)),
    };
    assert_eq!(ids_of(&Edit::InsertLanes(InsertLanes { insertion: Box::new(insertion) })), [40, 3]);
}

#[test]
fn what_an_edit_made_is_told_in_the_order_of_ids() {
    let mut s = kit();
    let next = s.next_id;
    let made = apply(&mut s, &Edit::AddVoices(AddVoices { voices: vec![voice("New")], assets: vec![] })).unwrap().made;
    assert_eq!(made, [Made { thing: Thing::Strip, id: next }, Made { thing: Thing::Voice, id: next + 1 }]);
}

#[test]
fn an_id_is_never_given_twice_also_after_its_thing_was_undone() {
    let mut s = kit();
    let added = apply(&mut s, &pattern(0)).unwrap();
    let gone = added.made[0].id;
    added.back.apply(&mut s).unwrap();
    assert!(s.patterns.iter().all(|p| p.id.0 != gone));
    let again = apply(&mut s, &pattern(1)).unwrap();
    assert!(again.made[0].id > gone);
    // What nobody has seen is taken back exactly.
    let before = kit();
    let mut s = before.clone();
    let tried = apply(&mut s, &pattern(0)).unwrap();
    tried.back.apply_exactly(&mut s).unwrap();
    assert_eq!(s, before);
}

#[rstest]
#[case(Edit::AddVoices(AddVoices { voices: vec![voice("Clap")], assets: vec![] }), "Add Clap")]
#[case(Edit::RenameStrip(RenameStrip { strip: StripId(2), name: "Sum".into() }), "Rename Mix bus to Sum")]
#[case(Edit::SetStrips(SetStrips { strips: vec![StripId(2)], change: StripChange::FaderDb(-3.0) }), "Fader of Mix bus")]
#[case(Edit::SetStrips(SetStrips { strips: vec![StripId(1), StripId(2), StripId(1)], change: StripChange::Mute(true) }), "Mute of 3 rows")]
#[case(Edit::RemoveVoices(RemoveVoices { voices: vec![VoiceId(999)] }), "Remove a voice")]
#[case(Edit::Batch { edits: vec![pattern(1), pattern(2), pattern(3)] }, "Add pattern P1 and 2 more")]
fn edits_say_in_a_few_words_what_they_do(#[case] edit: Edit, #[case] says: &str) {
    assert_eq!(edit.label(&kit()), says);
}

#[test]
fn two_thousand_voices_of_one_name_are_refused_before_the_work_and_five_hundred_get_names() {
    let mut s = Session::new("Names", 48_000);
    let many = |n: usize| Edit::AddVoices(AddVoices { voices: vec![voice("Kick"); n], assets: vec![] });
    assert!(refused(&mut s, &many(2000)).contains("2000 given, at most 512"));
    apply(&mut s, &many(500)).unwrap();
    let names: std::collections::HashSet<&str> = s.voices.iter().map(|v| v.name.as_str()).collect();
    assert_eq!((names.len(), s.voices[499].name.as_str()), (500, "Kick 500"));
}

#[test]
fn a_document_with_a_low_next_id_is_settled_and_told() {
    let mut s = Session { schema: 1, next_id: 2, ..kit() };
    assert!(s.validate().is_err());
    let remarks = s.settle();
    s.validate().unwrap();
    assert_eq!((s.next_id, remarks.len()), (kit().next_id, 1));
    assert!(s.settle().is_empty());
}

#[test]
fn a_document_that_does_not_say_which_bus_is_the_mix_bus_gets_the_first_that_feeds_main() {
    let mut json = serde_json::to_value(kit()).unwrap();
    json["schema"] = 2.into();
    json.as_object_mut().unwrap().remove("mix_bus");
    let mut s: Session = serde_json::from_value(json).unwrap();
    assert!(s.validate().is_err());
    assert!(s.settle().is_empty());
    assert_eq!(s, kit());
    // An earlier step that takes the bus out leaves main, and nothing that is not there.
    let without = Session {
        mix_bus: StripId(1),
        strips: s.strips.iter().filter(|x| x.id != s.mix_bus).cloned().collect(),
        ..s.clone()
    };
    let earlier = Patch { mix_bus: None, ..Patch::between(&s, &without) };
    earlier.apply(&mut s).unwrap();
    assert_eq!(s.mix_bus, StripId(1));
}
