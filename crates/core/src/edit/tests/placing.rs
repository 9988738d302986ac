use super::*;
use crate::edit::{Destination, Incoming, destinations};
use Family::{Bass, Hats, Low, Music, Percussion, Snare};

/// Lanes without a sound, each family on a bus of its own.
fn waiting(lanes: &[(&'static str, Family)]) -> Session {
    let mut s = Session::new("Kit", 48_000);
    let voices = lanes.iter().map(|(name, family)| NewVoice { trim_db: 0.0, family: *family, ..voice(name) }).collect();
    apply(&mut s, &Edit::AddVoices { voices, assets: vec![] }).unwrap();
    s
}

fn incoming(sounds: &[(&'static str, Family)]) -> Vec<Incoming> {
    sounds.iter().map(|(name, family)| Incoming { name: (*name).into(), family: *family }).collect()
}

/// The names of the lanes that sounds go to; empty for a new one.
fn lanes(s: &Session, sounds: &[(&'static str, Family)]) -> Vec<String> {
    let name = |d: &Destination| d.voice.map_or(String::new(), |id| s.voice(id).unwrap().name.to_string());
    destinations(s, &incoming(sounds)).iter().map(name).collect()
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
    let id = crate::units::AssetId("ab".repeat(32));
    let asset = AssetRef { id, name: "k.wav".into(), channels: 1, sample_rate: 48_000, frames: 10 };
    let source = VoiceSource::OneShot {
        layers: vec![crate::session::Layer::new(asset.id.clone())],
        hold: crate::session::Hold::Whole,
    };
    let kick = named(&s, "Kick");
    apply(&mut s, &Edit::SetSource { voice: kick, source, assets: vec![asset] }).unwrap();
    assert_eq!(lanes(&s, &[("Kick", Low)]), [""]);
}

#[test]
fn new_lanes_go_where_most_of_their_family_go() {
    let mut s = waiting(&[("Kick", Low), ("Snare", Snare), ("Clap", Snare), ("Rim", Snare)]);
    let strips = |s: &Session, names: &[&str]| names.iter().map(|n| channel(s, n)).collect::<Vec<_>>();
    let groups = [("Tight", strips(&s, &["Rim"])), ("Backbeat", strips(&s, &["Snare", "Clap"]))]
        .map(|(name, strips)| BusGroup { name: name.into(), strips })
        .to_vec();
    apply(&mut s, &Edit::GroupOnBuses { groups }).unwrap();
    let backbeat = s.strip(channel(&s, "Snare")).unwrap().output;
    let outputs: Vec<_> =
        destinations(&s, &incoming(&[("Snap", Snare), ("Kick deep", Low)])).iter().map(|d| d.output).collect();
    assert_eq!(outputs, [backbeat, None], "nothing but the mix bus takes kicks so far");
}

#[test]
fn notes_go_to_lanes_that_mean_the_same() {
    let mut s = waiting(&[("Kik", Low), ("HH closed", Hats)]);
    let note = |key: u8, at_ticks: u32| Note { track: 0, channel: 9, key, velocity: 100, at_ticks, length_ticks: 60 };
    let take = Take {
        name: "Take".into(),
        tracks: vec![],
        notes: vec![note(36, 0), note(42, 240), note(38, 960)],
        tempo_bpm: None,
        metre: None,
        remarks: vec![],
    };
    apply(&mut s, &Edit::AddTake { take, sounds: vec![] }).unwrap();
    let names: Vec<&str> = s.voices.iter().map(|v| v.name.as_str()).collect();
    assert_eq!(names, ["Kik", "HH closed", "Snare"]);
}
