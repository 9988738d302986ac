use super::*;
use crate::session::{Note, StripKind, Tap};
use proptest::prelude::*;
use rstest::rstest;

fn voice(name: &str) -> NewVoice {
    NewVoice { name: name.into(), family: Family::Low, source: VoiceSource::Empty, output: None, hits: vec![] }
}

fn hit(at_ticks: u32) -> Hit {
    Hit::new(at_ticks, 120, 100, 0)
}

/// Kick, Snare and Hat, each on its channel.
fn kit() -> Session {
    let mut s = Session::new("Kit", 48_000);
    let voices = ["Kick", "Snare", "Hat"].map(voice).to_vec();
    apply(&mut s, &Edit::AddVoices { voices, assets: vec![] }).unwrap();
    s
}

fn named(s: &Session, name: &str) -> VoiceId {
    s.voices.iter().find(|v| v.name == name).unwrap().id
}

fn channel(s: &Session, name: &str) -> StripId {
    s.voice(named(s, name)).unwrap().channel
}

#[test]
fn a_voice_comes_with_a_channel_on_the_mix_bus() {
    let s = kit();
    assert_eq!(s.strip_name(channel(&s, "Snare")), "Snare");
    assert_eq!(s.strip(channel(&s, "Snare")).unwrap().output, s.default_output());
}

#[test]
fn names_stay_apart() {
    let mut s = kit();
    apply(&mut s, &Edit::AddVoices { voices: vec![voice("Kick"), voice("Kick")], assets: vec![] }).unwrap();
    let names: Vec<_> = s.voices.iter().map(|v| v.name.as_str()).collect();
    assert_eq!(names, ["Kick", "Snare", "Hat", "Kick 2", "Kick 3"]);
}

#[test]
fn renaming_a_voice_renames_its_channel() {
    let mut s = kit();
    let hat = named(&s, "Hat");
    apply(&mut s, &Edit::RenameVoice { voice: hat, name: " Hat closed ".into() }).unwrap();
    assert_eq!(s.strip_name(channel(&s, "Hat closed")), "Hat closed");
}

#[test]
fn a_shared_channel_can_be_left_with_its_settings() {
    let mut s = kit();
    let (kick, hat, target) = (named(&s, "Kick"), named(&s, "Hat"), channel(&s, "Kick"));
    apply(&mut s, &Edit::ShareChannel { voices: vec![hat], channel: target }).unwrap();
    assert_eq!(s.strip_name(target), "Kick + Hat");
    assert_eq!(s.strips.iter().filter(|x| x.kind == StripKind::Channel).count(), 2);
    apply(&mut s, &Edit::SetStrips { strips: vec![target], change: StripChange::FaderDb(-7.0) }).unwrap();
    apply(&mut s, &Edit::OwnChannels { voices: vec![kick, hat] }).unwrap();
    assert_ne!(channel(&s, "Kick"), channel(&s, "Hat"));
    assert!(["Kick", "Hat"].iter().all(|n| s.strip(channel(&s, n)).unwrap().fader_db == -7.0));
}

#[test]
fn a_new_bus_takes_its_feeders_and_goes_where_they_went() {
    let mut s = kit();
    let feeders = vec![channel(&s, "Kick"), channel(&s, "Snare")];
    apply(&mut s, &Edit::NewBus { name: "Drums".into(), feeders: feeders.clone() }).unwrap();
    let bus = s.strips.iter().find(|x| x.name == "Drums").unwrap().clone();
    assert!(feeders.iter().all(|f| s.strip(*f).unwrap().output == Some(bus.id)));
    let mix = s.strips.iter().find(|x| x.name == "Mix bus").unwrap().id;
    assert_eq!(bus.output, Some(mix));
    apply(&mut s, &Edit::RemoveBus { bus: bus.id }).unwrap();
    assert!(feeders.iter().all(|f| s.strip(*f).unwrap().output == Some(mix)));
}

#[test]
fn a_loop_is_refused_by_name_and_changes_nothing() {
    let mut s = kit();
    for (name, feeder) in [("Drums", channel(&s, "Kick")), ("Tops", channel(&s, "Hat"))] {
        apply(&mut s, &Edit::NewBus { name: name.into(), feeders: vec![feeder] }).unwrap();
    }
    let id = |s: &Session, n: &str| s.strips.iter().find(|x| x.name == n).unwrap().id;
    let (drums, tops) = (id(&s, "Drums"), id(&s, "Tops"));
    apply(&mut s, &Edit::SetOutput { strips: vec![tops], output: Some(drums) }).unwrap();
    let before = s.clone();
    let error = apply(&mut s, &Edit::SetOutput { strips: vec![drums], output: Some(tops) }).unwrap_err();
    assert!(
        error.to_string().contains("Tops to Drums to Tops") || error.to_string().contains("Drums to Tops to Drums")
    );
    assert_eq!(s, before);
}

#[rstest]
#[case::gone(Edit::RenameVoice { voice: VoiceId(900), name: "x".into() }, "voice 900 is not in the session")]
#[case::fader(Edit::SetStrips { strips: vec![StripId(2)], change: StripChange::FaderDb(40.0) }, "-100 to 12 dB")]
#[case::not_a_number(Edit::SetStrips { strips: vec![StripId(2)], change: StripChange::PanPercent(f64::NAN) }, "pan of Mix bus")]
#[case::nothing(Edit::OwnChannels { voices: vec![] }, "nothing was chosen")]
#[case::main_out(Edit::SetOutput { strips: vec![StripId(1)], output: Some(StripId(2)) }, "only buses and main")]
#[case::used_pattern(Edit::RemovePattern { pattern: PatternId(3) }, "played by section")]
#[case::last_section(Edit::RemoveSection { section: SectionId(4) }, "at least one")]
#[case::empty_name(Edit::RenameStrip { strip: StripId(2), name: "".into() }, "0 characters")]
#[case::half_batch(Edit::Batch { edits: vec![Edit::RenameStrip { strip: StripId(2), name: "Sum".into() }, Edit::RemoveBus { bus: StripId(1) }] }, "not a bus")]
fn refusals_say_why_and_leave_the_document(#[case] edit: Edit, #[case] says: &str) {
    let mut s = kit();
    let before = s.clone();
    let message = apply(&mut s, &edit).unwrap_err().to_string();
    assert!(message.contains(says), "{message}");
    assert_eq!(s, before);
}

#[test]
fn a_recording_makes_the_song_as_long_as_itself() {
    let mut s = Session::new("Rec", 48_000);
    let id = crate::units::AssetId("ab".repeat(32));
    let asset =
        AssetRef { id: id.clone(), name: "gtr.wav".into(), channels: 2, sample_rate: 48_000, frames: 48_000 * 60 };
    let new = NewVoice { source: VoiceSource::Recording { asset: id, start_frame: 0 }, ..voice("Guitar") };
    apply(&mut s, &Edit::AddVoices { voices: vec![new], assets: vec![asset] }).unwrap();
    // 60 s at 96 bpm are 96 beats, 24 bars.
    assert_eq!(s.sections.iter().map(|x| x.bars).sum::<u32>(), 24);
    let voices = s.voices.iter().map(|v| v.id).collect();
    apply(&mut s, &Edit::RemoveVoices { voices }).unwrap();
    assert!(s.assets.is_empty());
}

#[test]
fn a_take_fills_lanes_by_name_and_makes_the_missing_ones() {
    let mut s = kit();
    let note = |key, at_ticks| Note { track: 0, channel: 9, key, velocity: 90, at_ticks, length_ticks: 60 };
    let take = Take {
        name: "Take".into(),
        tracks: vec![],
        notes: vec![note(36, 0), note(38, 960), note(51, 7680)],
        tempo_bpm: Some(132.0),
        metre: None,
        remarks: vec![],
    };
    apply(&mut s, &Edit::AddTake { take, sounds: vec![] }).unwrap();
    let names: Vec<_> = s.voices.iter().map(|v| v.name.as_str()).collect();
    assert_eq!(names, ["Kick", "Snare", "Hat", "Ride"]);
    assert_eq!(s.header.tempo_bpm, 132.0);
    assert_eq!(s.sections.len(), 1);
    assert_eq!(s.sections[0].bars, 3);
    assert_eq!(s.hits(s.patterns[0].id, named(&s, "Kick")).len(), 1);
}

#[test]
fn a_shorter_pattern_drops_what_lies_behind_its_end() {
    let mut s = kit();
    let (pattern, voice) = (s.patterns[0].id, named(&s, "Kick"));
    apply(&mut s, &Edit::SetHits { pattern, voice, hits: vec![hit(3900), hit(0)] }).unwrap();
    assert_eq!(s.hits(pattern, voice)[0].at_ticks, 0);
    let shorter = Pattern { bars: 1, ..s.patterns[0].clone() };
    apply(&mut s, &Edit::SetPattern { pattern: shorter }).unwrap();
    assert_eq!(s.hits(pattern, voice), [hit(0)]);
}

/// Edits that may or may not fit the document they meet.
fn any_edit() -> impl Strategy<Value = Edit> {
    let voice_id = (5u32..16).prop_map(VoiceId);
    let strip_id = (1u32..16).prop_map(StripId);
    prop_oneof![
        "[a-z]{0,8}".prop_map(|n| Edit::AddVoices { voices: vec![voice(&n)], assets: vec![] }),
        prop::collection::vec(voice_id.clone(), 0..3).prop_map(|voices| Edit::RemoveVoices { voices }),
        (voice_id.clone(), "[a-z]{0,5}").prop_map(|(voice, name)| Edit::RenameVoice { voice, name }),
        (voice_id.clone(), 0u32..5).prop_map(|(voice, to)| Edit::MoveVoice { voice, to }),
        (voice_id.clone(), prop::collection::vec(0u32..8000, 0..5)).prop_map(|(voice, at)| Edit::SetHits {
            pattern: PatternId(3),
            voice,
            hits: at.into_iter().map(hit).collect()
        }),
        (strip_id.clone(), -120.0..20.0f64)
            .prop_map(|(s, db)| Edit::SetStrips { strips: vec![s], change: StripChange::FaderDb(db) }),
        (strip_id.clone(), prop::option::of(strip_id.clone()))
            .prop_map(|(s, output)| Edit::SetOutput { strips: vec![s], output }),
        prop::collection::vec(strip_id.clone(), 0..3).prop_map(|feeders| Edit::NewBus { name: "Bus".into(), feeders }),
        strip_id.clone().prop_map(|bus| Edit::RemoveBus { bus }),
        (prop::collection::vec(voice_id.clone(), 1..3), strip_id.clone())
            .prop_map(|(voices, channel)| Edit::ShareChannel { voices, channel }),
        prop::collection::vec(voice_id, 1..3).prop_map(|voices| Edit::OwnChannels { voices }),
        (0u32..9, 0u32..3).prop_map(|(bars, at)| Edit::AddSection {
            name: "B".into(),
            pattern: PatternId(3),
            bars,
            at
        }),
        strip_id.prop_map(|s| {
            let plan = StemPlan { without: vec![s], tap: Tap::Dry, ..StemPlan::default() };
            Edit::SetStemPlan { plan }
        }),
    ]
}

proptest! {
    #[test]
    fn any_edits_undone_give_the_same_document(edits in prop::collection::vec(any_edit(), 1..24)) {
        let mut s = kit();
        let mut trail = Vec::new();
        for edit in &edits {
            let before = s.clone();
            match apply(&mut s, edit) {
                Ok(applied) => {
                    let mut again = before.clone();
                    applied.there.apply(&mut again).unwrap();
                    prop_assert_eq!(&again, &s);
                    trail.push((before, applied));
                }
                Err(_) => prop_assert_eq!(&before, &s),
            }
        }
        for (before, applied) in trail.into_iter().rev() {
            applied.back.apply(&mut s).unwrap();
            prop_assert_eq!(&s, &before);
        }
    }
}
