use super::*;
use crate::edit::{
    AddTake, AddVoices, Destination, DuplicateVoice, GroupOnBuses, Incoming, NotePlaces, NotesLane, NotesTo,
    RemoveVoices, RenameVoice, SetSource, destinations, note_places,
};
use crate::session::{Hold, Layer, Session, Voice};
use Family::{Bass, Hats, Low, Music, Percussion, Snare};

/// Lanes without a sound, each family on a bus of its own.
fn waiting(lanes: &[(&'static str, Family)]) -> Session {
    let mut s = Session::new("Kit", 48_000);
    let voices = lanes.iter().map(|(name, family)| NewVoice { trim_db: 0.0, family: *family, ..voice(name) }).collect();
    apply(&mut s, &Edit::AddVoices(AddVoices { voices, assets: vec![] })).unwrap();
    s
}

fn incoming(sounds: &[(&'static str, Family)]) -> Vec<Incoming> {
    sounds.iter().map(|(name, family)| Incoming { name: (*name).into(), family: *family }).collect()
}

/// The names of the lanes that sounds go to; empty for a new one.
fn lanes(s: &Session, sounds: &[(&'static str, Family)]) -> Vec<String> {
    let name = |d: &Destination| d.voice.map_or(String::new(), |id| s.voice(id).unwrap().name.to_string());
    destinations(s, &incoming(sounds), &[]).iter().map(name).collect()
}

#[test]
fn sounds_that_come_behind_the_notes_meet_the_lanes_that_play_stand_ins() {
    let mut s = waiting(&[("Kick", Low), ("Snare", Snare)]);
    let asset = |n: &str| AssetRef {
        id: AssetId(n.repeat(64)),
        name: "a.wav".into(),
        channels: 1,
        sample_rate: 48_000,
        frames: 4800,
    };
    let plays = |s: &mut Session, voice: usize, n: &str, gain_db: f64| {
        let layer = Layer { gain_db, ..Layer::new(asset(n).id) };
        let source = VoiceSource::OneShot { layers: vec![layer], hold: Hold::Whole };
        let edit = SetSource { voice: s.voices[voice].id, source, assets: vec![asset(n)] };
        apply(s, &Edit::SetSource(edit)).unwrap();
    };
    plays(&mut s, 0, "a", 0.0);
    plays(&mut s, 1, "b", 0.0);
    let found = |s: &Session| {
        let to = destinations(s, &incoming(&[("Kick", Low), ("Snare", Snare)]), &[asset("a").id]);
        to.iter().map(|d| d.voice.is_some()).collect::<Vec<_>>()
    };
    assert_eq!(found(&s), [true, false], "the snare has a sound of its own");
    // One that somebody worked on stays.
    plays(&mut s, 0, "a", -3.0);
    assert_eq!(found(&s), [false, false]);
}

#[test]
fn a_kit_fills_the_lanes_of_a_template() {
    let s = waiting(&[
        ("Kick", Low),
        ("Snare", Snare),
        ("Hat closed", Hats),
        ("Hat open", Hats),
        ("Crash", Hats),
        ("Tom low", Percussion),
        ("Over left", Hats),
        ("Room", Percussion),
        ("Bass", Bass),
        ("Keys", Music),
    ]);
    let sounds = [
        ("OH L", Hats),
        ("Hh open", Hats),
        ("Hh closed", Hats),
        ("Kick 808x", Low),
        ("Crash16", Hats),
        ("FloorTom", Percussion),
        ("Chords", Music),
        ("room mic", Percussion),
        ("Sub", Bass),
        ("Clap", Snare),
    ];
    let found = lanes(&s, &sounds);
    assert_eq!(found, ["Over left", "Hat open", "Hat closed", "Kick", "Crash", "Tom low", "Keys", "Room", "Bass", ""]);
}

#[test]
fn no_lane_gets_two_and_the_nearest_name_is_first() {
    let s = waiting(&[("Kick", Low), ("Kick 2", Low)]);
    assert_eq!(lanes(&s, &[("Kik 2", Low), ("BD", Low), ("Kick 3", Low)]), ["Kick 2", "Kick", ""]);
}

#[rstest]
#[case::another_side("Hat closed", Hats, "Hat open", Hats)]
#[case::another_part("Clap", Snare, "Snare", Snare)]
#[case::another_family("Pad", Music, "Loop", Bass)]
fn a_lane_that_means_another_thing_is_left_alone(
    #[case] lane: &'static str,
    #[case] family: Family,
    #[case] sound: &'static str,
    #[case] of: Family,
) {
    assert_eq!(lanes(&waiting(&[(lane, family)]), &[(sound, of)]), [""]);
}

#[test]
fn a_family_stands_in_only_where_there_is_no_choice() {
    let s = waiting(&[("Pad", Music)]);
    assert_eq!(lanes(&s, &[("Strings", Music)]), ["Pad"]);
    assert_eq!(lanes(&s, &[("Strings", Music), ("Guitar", Music)]), ["", ""]);
}

#[test]
fn lanes_with_a_sound_are_not_waiting() {
    let mut s = waiting(&[("Kick", Low)]);
    let id = lane_units::AssetId("ab".repeat(32));
    let asset = AssetRef { id, name: "k.wav".into(), channels: 1, sample_rate: 48_000, frames: 10 };
    let source = VoiceSource::OneShot {
        layers: vec![crate::session::Layer::new(asset.id.clone())],
        hold: crate::session::Hold::Whole,
    };
    let kick = named(&s, "Kick");
    apply(&mut s, &Edit::SetSource(SetSource { voice: kick, source, assets: vec![asset] })).unwrap();
    assert_eq!(lanes(&s, &[("Kick", Low)]), [""]);
}

#[test]
fn new_lanes_go_where_most_of_their_family_go() {
    let mut s = waiting(&[("Kick", Low), ("Snare", Snare), ("Clap", Snare), ("Rim", Snare)]);
    let strips = |s: &Session, names: &[&str]| names.iter().map(|n| channel(s, n)).collect::<Vec<_>>();
    let groups = [("Tight", strips(&s, &["Rim"])), ("Backbeat", strips(&s, &["Snare", "Clap"]))]
        .map(|(name, strips)| BusGroup { name: name.into(), strips })
        .to_vec();
    apply(&mut s, &Edit::GroupOnBuses(GroupOnBuses { groups })).unwrap();
    let backbeat = s.strip(channel(&s, "Snare")).unwrap().output;
    let outputs: Vec<_> =
        destinations(&s, &incoming(&[("Snap", Snare), ("Kick deep", Low)]), &[]).iter().map(|d| d.output).collect();
    assert_eq!(outputs, [backbeat, None], "nothing but the mix bus takes kicks so far");
}

/// A kick, a closed hat and a snare.
fn three_notes() -> Take {
    let note = |key: u8, at_ticks: u32| Note { track: 0, channel: 9, key, velocity: 100, at_ticks, length_ticks: 60 };
    Take {
        name: "Take".into(),
        tracks: vec![],
        notes: vec![note(36, 0), note(42, 240), note(38, 960)],
        tempo_bpm: None,
        metre: None,
        remarks: vec![],
    }
}

fn add(to: Vec<NotesTo>) -> Edit {
    Edit::AddTake(AddTake { take: three_notes(), sounds: vec![], to })
}

/// How many hits each lane has.
fn hits(s: &Session) -> Vec<(&str, usize)> {
    let of = |v: &Voice| s.parts.iter().filter(|p| p.voice == v.id).map(|p| p.hits.len()).sum();
    s.voices.iter().map(|v| (v.name.as_str(), of(v))).collect()
}

#[test]
fn notes_go_to_lanes_that_mean_the_same() {
    let mut s = waiting(&[("Kik", Low), ("HH closed", Hats)]);
    apply(&mut s, &add(vec![])).unwrap();
    assert_eq!(hits(&s), [("Kik", 1), ("HH closed", 1), ("Snare", 1)]);
}

#[test]
fn notes_go_where_somebody_chose() {
    let mut s = waiting(&[("Kik", Low), ("HH closed", Hats)]);
    let kik = s.voices[0].id;
    let to = vec![
        NotesTo { notes: "Kick".into(), to: NotesLane::New },
        NotesTo { notes: "Snare".into(), to: NotesLane::Voice { voice: kik } },
    ];
    apply(&mut s, &add(to)).unwrap();
    assert_eq!(hits(&s), [("Kik", 1), ("HH closed", 1), ("Kick", 1)]);
}

#[test]
fn two_that_are_chosen_for_one_lane_share_it() {
    let mut s = waiting(&[("Kik", Low)]);
    let to = ["Hat closed", "Snare"]
        .map(|notes| NotesTo { notes: notes.into(), to: NotesLane::Voice { voice: s.voices[0].id } });
    apply(&mut s, &add(to.to_vec())).unwrap();
    assert_eq!(hits(&s), [("Kik", 3)]);
}

#[rstest]
#[case::made_with_it("Tap 2", &[("Tap", 0), ("Tap 2", 1), ("Snare", 1), ("Hat closed", 1)])]
#[case::none_of_that_name("Knock", &[("Tap", 0), ("Tap 2", 0), ("Kick", 1), ("Snare", 1), ("Hat closed", 1)])]
fn a_lane_made_in_the_same_edit_is_found_by_its_name(#[case] name: &'static str, #[case] expected: &[(&str, usize)]) {
    let mut s = waiting(&[("Tap", Percussion)]);
    let made =
        Edit::AddVoices(AddVoices { voices: vec![NewVoice { family: Percussion, ..voice("Tap") }], assets: vec![] });
    let to = vec![NotesTo { notes: "Kick".into(), to: NotesLane::Named { name: name.into() } }];
    apply(&mut s, &Edit::Batch { edits: vec![made, add(to)] }).unwrap();
    assert_eq!(hits(&s), expected);
}

#[test]
fn a_lane_that_is_gone_is_said_and_nothing_is_half_done() {
    let mut s = waiting(&[("Kik", Low)]);
    let before = s.clone();
    let to = vec![NotesTo { notes: "Kick".into(), to: NotesLane::Voice { voice: lane_units::VoiceId(900) } }];
    assert!(matches!(apply(&mut s, &add(to)), Err(EditError::Gone { .. })));
    assert_eq!(s, before);
}

#[test]
fn where_notes_go_is_said_before_they_come() {
    let s = waiting(&[("Kik", Low)]);
    let sound =
        Edit::AddVoices(AddVoices { voices: vec![NewVoice { family: Hats, ..voice("HH closed") }], assets: vec![] });
    let refused = Edit::RemoveVoices(RemoveVoices { voices: vec![lane_units::VoiceId(900)] });
    let NotePlaces { places, coming } = note_places(&s, &[refused, sound], &three_notes());
    assert_eq!(coming, [Name::from("HH closed")]);
    let to: Vec<_> = places.iter().map(|p| (p.notes.as_str(), p.hits, p.to.clone())).collect();
    let kik = NotesLane::Voice { voice: s.voices[0].id };
    assert_eq!(
        to,
        [
            ("Kick", 1, kik),
            ("Snare", 1, NotesLane::New),
            ("Hat closed", 1, NotesLane::Named { name: "HH closed".into() })
        ]
    );
}

#[test]
fn what_is_said_is_what_becomes_of_them() {
    let mut s = waiting(&[("Kik", Low), ("Snare", Snare), ("HH closed", Hats)]);
    let places = note_places(&s, &[], &three_notes()).places;
    let mut unchosen = s.clone();
    apply(&mut unchosen, &add(vec![])).unwrap();
    let to = places.into_iter().map(|p| NotesTo { notes: p.notes, to: p.to }).collect();
    apply(&mut s, &add(to)).unwrap();
    assert_eq!(hits(&s), hits(&unchosen));
}

#[test]
fn a_lane_that_follows_another_is_not_proposed_for_notes() {
    let mut s = waiting(&[("Kick", Low)]);
    let leader = s.voices[0].id;
    apply(&mut s, &Edit::DuplicateVoice(DuplicateVoice { voice: leader, with_chain: false, follows: true })).unwrap();
    apply(&mut s, &Edit::RenameVoice(RenameVoice { voice: leader, name: "Boom".into() })).unwrap();
    let follower = s.voices[1].id;
    apply(&mut s, &Edit::RenameVoice(RenameVoice { voice: follower, name: "Kick".into() })).unwrap();
    let to = note_places(&s, &[], &three_notes()).places.swap_remove(0).to;
    assert_ne!(to, NotesLane::Voice { voice: follower });
    apply(&mut s, &add(vec![])).unwrap();
}

/// The lanes that the notes of a kit go to, by the notes' names.
fn notes_of(s: &Session, keys: &[u8]) -> Vec<(String, Option<String>)> {
    let note = |(n, key): (usize, &u8)| Note {
        track: 0,
        channel: 9,
        key: *key,
        velocity: 100,
        at_ticks: 240 * n as u32,
        length_ticks: 120,
    };
    let take = Take {
        name: "Take".into(),
        tracks: vec![],
        notes: keys.iter().enumerate().map(note).collect(),
        tempo_bpm: None,
        metre: None,
        remarks: vec![],
    };
    let lane = |to: &NotesLane| match to {
        NotesLane::Voice { voice } => s.voice(*voice).map(|v| v.name.to_string()),
        NotesLane::New | NotesLane::Named { .. } => None,
    };
    let places = note_places(s, &[], &take).places;
    places.iter().map(|p| (p.notes.to_string(), lane(&p.to))).collect()
}

#[test]
fn toms_go_to_their_own_drums_where_those_are_there() {
    let lanes = [("Kick", Low), ("Tom low", Percussion), ("Tom high", Percussion)];
    let found = notes_of(&waiting(&lanes), &[36, 45, 50]);
    let to = |name: &str| found.iter().filter(|(_, lane)| lane.as_deref() == Some(name)).count();
    assert_eq!((to("Kick"), to("Tom low"), to("Tom high"), found.len()), (1, 1, 1, 3), "{found:?}");
}

#[test]
fn toms_stay_together_where_there_is_one_lane_for_them() {
    let found = notes_of(&waiting(&[("Kick", Low), ("Toms", Percussion)]), &[36, 45, 50]);
    assert_eq!(found.len(), 2, "{found:?}");
    assert_eq!(found[1].1.as_deref(), Some("Toms"));
}
