//! What goes with an edit though it is not what it is for.

use super::*;
use crate::session::{Hold, Layer};

/// What an edit takes with it; the session as it is then.
fn lost(s: &mut Session, edit: impl Into<Edit>) -> Vec<String> {
    let edit = edit.into();
    let before = s.clone();
    apply(s, &edit).unwrap();
    losses(&before, s, &edit)
}

fn with_hits(s: &mut Session, name: &str, at: &[u32]) {
    let (pattern, voice) = (s.patterns[0].id, named(s, name));
    let hits = at.iter().map(|at| hit(*at)).collect();
    apply(s, &Edit::SetHits(SetHits { pattern, voice, hits })).unwrap();
}

fn key_of(s: &Session, name: &str) -> Key {
    serde_json::from_value(serde_json::json!({
        "source": channel(s, name), "tap": "pre_fader", "level_db": 0, "high_pass_hz": 0, "low_pass_hz": 0,
    }))
    .unwrap()
}

fn compressor(s: &mut Session, on: &str, key: Option<Key>) {
    let settings = Settings::all().into_iter().find(|x| x.name() == "Compressor").unwrap();
    let strips = vec![channel(s, on)];
    apply(s, &Edit::AddProcessor(AddProcessor { strips, settings, key, at: Some(0) })).unwrap();
}

#[test]
fn what_an_edit_is_for_is_not_told() {
    let mut s = kit();
    with_hits(&mut s, "Kick", &[0, 960]);
    compressor(&mut s, "Kick", None);
    let (pattern, kick) = (s.patterns[0].id, named(&s, "Kick"));
    assert!(lost(&mut s, SetHits { pattern, voice: kick, hits: vec![] }).is_empty());
    let (strip, processors) = (channel(&s, "Kick"), vec![s.strip(channel(&s, "Kick")).unwrap().chain[0].id]);
    assert!(lost(&mut s, RemoveProcessors { strip, processors }).is_empty());
    assert!(lost(&mut s, RemoveVoices { voices: vec![kick] }).is_empty());
    assert!(lost(&mut s, NewBus { name: "Drums".into(), feeders: vec![] }).is_empty());
}

#[test]
fn a_shared_channel_tells_whose_settings_went() {
    let mut s = kit();
    let (hat, snare) = (channel(&s, "Hat"), named(&s, "Snare"));
    compressor(&mut s, "Snare", None);
    let strips = vec![channel(&s, "Snare")];
    apply(&mut s, &Edit::SetStrips(SetStrips { strips, change: StripChange::FaderDb(-3.0) })).unwrap();
    let told = lost(&mut s, ShareChannel { voices: vec![snare], channel: hat });
    assert_eq!(told, ["the channel of Snare (fader -3.0 dB, compressor)"]);
    // One at rest is no loss.
    let kick = named(&s, "Kick");
    assert!(lost(&mut s, ShareChannel { voices: vec![kick], channel: hat }).is_empty());
}

#[test]
fn a_lane_that_goes_takes_its_key_from_others_and_that_is_told() {
    let mut s = kit();
    let key = key_of(&s, "Kick");
    compressor(&mut s, "Hat", Some(key));
    let kick = named(&s, "Kick");
    assert_eq!(lost(&mut s, RemoveVoices { voices: vec![kick] }), ["the key Kick of compressor on Hat"]);
}

#[test]
fn a_chain_that_is_copied_over_another_tells_what_stood_there() {
    let mut s = kit();
    compressor(&mut s, "Kick", None);
    compressor(&mut s, "Hat", None);
    let (from, to) = (channel(&s, "Kick"), vec![channel(&s, "Hat")]);
    let copy = |replace| CopyChain { from, processors: vec![], to: to.clone(), replace };
    assert!(lost(&mut s, copy(false)).is_empty());
    assert_eq!(lost(&mut s, copy(true)), ["compressor on Hat", "compressor on Hat"]);
}

const KICK: u8 = 36;
const SNARE: u8 = 38;

/// A kit take with a kick and two snares; the take, and keys by their number.
fn taken() -> (Session, TakeId, impl Fn(u8) -> crate::session::NoteKey) {
    let mut s = Session::new("Take", 48_000);
    let note = |key, at_ticks| Note { track: 0, channel: 9, key, velocity: 100, at_ticks, length_ticks: 120 };
    let take = Take {
        name: "Take".into(),
        tracks: vec![],
        notes: vec![note(KICK, 0), note(SNARE, 960), note(SNARE, 2880)],
        tempo_bpm: None,
        metre: None,
        remarks: vec![],
    };
    apply(&mut s, &Edit::AddTake(AddTake { take, sounds: vec![], to: vec![] })).unwrap();
    let id = s.takes[0].id;
    (s, id, |key| crate::session::NoteKey { track: 0, channel: 9, key })
}

fn new_lane(name: &str, keys: Vec<crate::session::NoteKey>) -> Split {
    Split {
        to: SplitTarget::New { name: name.parse().unwrap(), family: Family::Low, melodic: false, sound: None },
        keys,
    }
}

fn hits_of(s: &Session, voice: VoiceId) -> Vec<Hit> {
    s.parts.iter().find(|p| p.voice == voice).map_or_else(Vec::new, |p| p.hits.clone())
}

#[test]
fn a_take_that_is_split_again_keeps_names_and_hits_of_lanes_whose_notes_stay() {
    let (mut s, take, key) = taken();
    let snare = named(&s, "Snare");
    apply(&mut s, &Edit::RenameVoice(RenameVoice { voice: snare, name: "Cedar".into() })).unwrap();
    with_hits(&mut s, "Cedar", &[960, 1000]);
    let splits = vec![new_lane("Kick", vec![key(KICK)]), new_lane("Snare", vec![key(SNARE)])];
    assert!(lost(&mut s, SplitTake { take, splits }).is_empty());
    assert_eq!(s.voice(snare).unwrap().name, "Cedar");
    assert_eq!(hits_of(&s, snare), [hit(960), hit(1000)]);
    assert_eq!(s.voices.len(), 2);
}

#[test]
fn hits_set_by_hand_stay_where_a_lane_gets_other_notes() {
    let (mut s, take, key) = taken();
    let snare = named(&s, "Snare");
    let loud = Hit::new(960, 120, 127, 0);
    let hits = vec![loud, hit(1000), hit(2880)];
    let pattern = s.patterns[0].id;
    apply(&mut s, &Edit::SetHits(SetHits { pattern, voice: snare, hits })).unwrap();
    let to = SplitTarget::Voice { voice: snare };
    let told = lost(&mut s, SplitTake { take, splits: vec![Split { to, keys: vec![key(KICK), key(SNARE)] }] });
    assert_eq!(hits_of(&s, snare), [hit(0), loud, hit(1000), hit(2880)]);
    // The kick's lane goes, its note is the snare's now.
    assert_eq!(told, ["the lane Kick"]);
}

#[test]
fn lanes_that_go_with_a_split_are_told() {
    let (mut s, take, key) = taken();
    with_hits(&mut s, "Snare", &[960, 1000, 2880]);
    let told = lost(&mut s, SplitTake { take, splits: vec![new_lane("Both", vec![key(KICK), key(SNARE)])] });
    assert_eq!(told, ["the lane Kick", "the lane Snare"]);
}

#[rstest]
#[case::as_it_was_made(|_: &mut Session| (), 0)]
#[case::called_otherwise(|s: &mut Session| {
    let voice = named(s, "Snare");
    apply(s, &Edit::RenameVoice(RenameVoice { voice, name: "Cedar".into() })).unwrap();
}, 1)]
#[case::with_hits_by_hand(|s: &mut Session| with_hits(s, "Snare", &[960, 1000, 2880]), 1)]
#[case::at_another_level(|s: &mut Session| {
    let strips = vec![channel(s, "Snare")];
    apply(s, &Edit::SetStrips(SetStrips { strips, change: StripChange::FaderDb(-3.0) })).unwrap();
}, 1)]
#[case::with_a_sound_of_its_own(|s: &mut Session| plays(s, "Snare", "d"), 1)]
fn a_lane_that_a_take_made_is_told_once_somebody_worked_on_it(#[case] work: fn(&mut Session), #[case] told: usize) {
    let (mut s, take, key) = taken();
    for name in ["Kick", "Snare"] {
        plays(&mut s, name, "c");
    }
    work(&mut s);
    let kick = SplitTarget::Voice { voice: named(&s, "Kick") };
    let splits = vec![Split { to: kick, keys: vec![key(KICK), key(SNARE)] }];
    assert_eq!(lost(&mut s, SplitTake { take, splits }).len(), told);
}

/// Gives a lane a sound, as it is.
fn plays(s: &mut Session, name: &str, id: &str) {
    let asset =
        AssetRef { id: AssetId(id.repeat(64)), name: "a.wav".into(), channels: 1, sample_rate: 48_000, frames: 480 };
    let layers = vec![Layer::new(asset.id.clone())];
    let source = VoiceSource::OneShot { layers, hold: Hold::Whole };
    apply(s, &Edit::SetSource(SetSource { voice: named(s, name), source, assets: vec![asset] })).unwrap();
}
