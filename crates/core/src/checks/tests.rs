use super::*;
use crate::edit::{Edit, NewHits, NewVoice, StripChange, apply};
use crate::session::{AssetRef, Family, Hit, Hold, Layer, Session, VoiceSource};
use crate::units::{AssetId, OFF_DB, StripId, VoiceId};
use rstest::rstest;

/// A snare with hits on the bus Tops, beside a kick on the mix bus.
fn beat() -> Session {
    let mut s = Session::new("Beat", 48_000);
    let id = AssetId("aa".repeat(32));
    let asset = AssetRef { id: id.clone(), name: "a.wav".into(), channels: 1, sample_rate: 48_000, frames: 4800 };
    let pattern = s.patterns[0].id;
    let voice = |name: &str| NewVoice {
        name: name.into(),
        family: Family::Snare,
        source: VoiceSource::OneShot { layers: vec![Layer::new(id.clone())], hold: Hold::Whole },
        output: None,
        hits: vec![NewHits { pattern, hits: vec![Hit::new(0, 240, 100, 0)] }],
    };
    let voices = vec![voice("Snare"), voice("Kick")];
    apply(&mut s, &Edit::AddVoices { voices, assets: vec![asset] }).unwrap();
    let feeders = vec![s.voices[0].channel];
    apply(&mut s, &Edit::NewBus { name: "Tops".into(), feeders }).unwrap();
    s
}

fn snare(s: &Session) -> (VoiceId, StripId) {
    (s.voices[0].id, s.voices[0].channel)
}

fn bus(s: &Session, name: &str) -> StripId {
    s.strips.iter().find(|x| x.name == name).unwrap().id
}

fn of_snare(s: &Session) -> Trace {
    let (voice, strip) = snare(s);
    trace(s, Some(voice), strip, 0, 4)
}

fn set(strip: StripId, change: StripChange) -> Edit {
    Edit::SetStrips { strips: vec![strip], change }
}

#[test]
fn a_lane_that_is_heard_says_its_way() {
    let found = of_snare(&beat());
    assert_eq!(found.sentence, "Snare goes to Tops, then Mix bus, then Main.");
    assert!(!found.silent && found.repair.is_none());
    let names: Vec<_> = found.steps.iter().map(|s| s.name.as_str()).collect();
    assert_eq!(names, ["Snare", "Tops", "Mix bus", "Main"]);
}

/// An edit that silences the snare.
type Silence = fn(&Session) -> Edit;

#[rstest]
#[case::mute(|s: &Session| set(snare(s).1, StripChange::Mute(true)), "it is muted")]
#[case::bus_mute(|s: &Session| set(bus(s, "Tops"), StripChange::Mute(true)), "its bus Tops is muted")]
#[case::main_mute(|s: &Session| set(bus(s, "Main"), StripChange::Mute(true)), "main is muted")]
#[case::solo(|s: &Session| set(s.voices[1].channel, StripChange::Solo(true)), "solo is on at Kick")]
#[case::fader(|s: &Session| set(snare(s).1, StripChange::FaderDb(OFF_DB)), "the fader of it is off")]
#[case::bus_trim(|s: &Session| set(bus(s, "Tops"), StripChange::TrimDb(OFF_DB)), "the trim of its bus Tops is off")]
#[case::no_output(|s: &Session| Edit::SetOutput { strips: vec![snare(s).1], output: None }, "it goes to nothing")]
#[case::bus_no_output(|s: &Session| Edit::SetOutput { strips: vec![bus(s, "Tops")], output: None }, "its bus Tops goes to nothing")]
#[case::mix_no_output(|s: &Session| Edit::SetOutput { strips: vec![bus(s, "Mix bus")], output: None }, "its bus Mix bus goes to nothing")]
#[case::layers_off(|s: &Session| {
    let VoiceSource::OneShot { layers, hold } = s.voices[0].source.clone() else { unreachable!() };
    let layers = layers.into_iter().map(|l| Layer { gain_db: OFF_DB, ..l }).collect();
    Edit::SetSource { voice: snare(s).0, source: VoiceSource::OneShot { layers, hold }, assets: vec![] }
}, "all its layers are off")]
fn the_first_thing_that_stops_a_lane_is_named_and_repaired(#[case] silence: Silence, #[case] reason: &str) {
    let mut s = beat();
    let edit = silence(&s);
    apply(&mut s, &edit).unwrap();
    let found = of_snare(&s);
    assert!(found.silent);
    assert_eq!(found.sentence, format!("Snare is silent: {reason}."));
    apply(&mut s, &found.repair.unwrap().edit).unwrap();
    assert!(!of_snare(&s).silent, "{}", of_snare(&s).sentence);
}

#[test]
fn no_hits_and_no_sound_are_told() {
    let mut s = beat();
    let (voice, strip) = snare(&s);
    let pattern = s.patterns[0].id;
    apply(&mut s, &Edit::SetHits { pattern, voice, hits: vec![Hit::new(3840, 240, 100, 0)] }).unwrap();
    assert_eq!(trace(&s, Some(voice), strip, 0, 1).sentence, "Snare is silent: it has no hits in bar 1.");
    assert!(!trace(&s, Some(voice), strip, 0, 2).silent);
    apply(&mut s, &Edit::SetSource { voice, source: VoiceSource::Empty, assets: vec![] }).unwrap();
    assert!(of_snare(&s).sentence.starts_with("Snare is silent: it has no sound yet"));
    // A bus has no hits of its own to miss.
    assert!(!trace(&s, None, bus(&s, "Tops"), 0, 1).silent);
}

#[rstest]
#[case::straight(|s: &Session| Edit::SetOutput { strips: vec![snare(s).1], output: Some(bus(s, "Main")) }, "Snare goes straight into main, past Mix bus.")]
#[case::nowhere(|s: &Session| Edit::SetOutput { strips: vec![snare(s).1], output: None }, "Snare goes to nothing.")]
#[case::empty(|_: &Session| Edit::NewBus { name: "Spare".into(), feeders: vec![] }, "Nothing feeds the bus Spare.")]
#[case::names(|s: &Session| Edit::RenameVoice { voice: snare(s).0, name: "kick".into() }, "2 rows are called Kick.")]
#[case::solo(|s: &Session| set(snare(s).1, StripChange::Solo(true)), "Solo is on at Snare; the rest is silent in the mix and in stems.")]
#[case::mute(|s: &Session| set(snare(s).1, StripChange::Mute(true)), "Snare is muted and will be silent in its stem.")]
fn each_check_is_found_and_repaired(#[case] spoil: Silence, #[case] sentence: &str) {
    let mut s = beat();
    assert_eq!(checks(&s), []);
    let edit = spoil(&s);
    apply(&mut s, &edit).unwrap();
    let mut guard = 0;
    assert!(checks(&s).iter().any(|c| c.sentence == sentence), "{:?}", checks(&s));
    while let Some(check) = checks(&s).into_iter().next() {
        apply(&mut s, &check.repair.unwrap().edit).unwrap();
        guard += 1;
        assert!(guard < 5, "repairs go in circles: {}", check.sentence);
    }
}

#[test]
fn a_dismissed_check_stays_and_comes_last() {
    let mut s = beat();
    let (_, strip) = snare(&s);
    apply(&mut s, &set(strip, StripChange::Mute(true))).unwrap();
    let other = s.voices[1].channel;
    apply(&mut s, &set(other, StripChange::Mute(true))).unwrap();
    let key = checks(&s)[0].key.clone();
    let applied = apply(&mut s, &Edit::DismissCheck { key: key.clone(), dismissed: true }).unwrap();
    assert_eq!(checks(&s).iter().map(|c| c.dismissed).collect::<Vec<_>>(), [false, true]);
    assert_eq!(checks(&s)[1].key, key);
    applied.back.apply(&mut s).unwrap();
    assert!(checks(&s).iter().all(|c| !c.dismissed));
}
