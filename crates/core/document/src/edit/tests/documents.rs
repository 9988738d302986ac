//! Documents as templates, and rules of routing and chains.

use super::*;
use crate::session::Session;
use crate::session::{Hold, Layer, StripSend, TemplateKeeps};
use lane_dsp::beat_shape::ShapePoint;
use lane_dsp::{BeatShape, Settings, StereoImage};
use lane_units::AssetId;

/// A session with everything that a template may keep or leave.
fn full() -> Session {
    let mut s = Session::new("Full", 48_000);
    let id = AssetId("aa".repeat(32));
    let asset = AssetRef { id: id.clone(), name: "a.wav".into(), channels: 1, sample_rate: 48_000, frames: 4800 };
    let voice = |name: &str| NewVoice {
        trim_db: 0.0,
        name: name.parse().unwrap(),
        family: Family::Low,
        source: VoiceSource::OneShot { layers: vec![Layer::new(id.clone())], hold: Hold::Whole },
        output: None,
        hits: vec![NewHits { pattern: PatternId(3), hits: vec![Hit::new(0, 240, 100, 0)] }],
    };
    let voices = vec![voice("Kick"), voice("Snare")];
    apply(&mut s, &Edit::AddVoices(AddVoices { voices, assets: vec![asset] })).unwrap();
    let feeders = vec![s.voices[0].channel];
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Press".into(), feeders: feeders.clone(), silent: true }))
        .unwrap();
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: feeders.clone(), change: StripChange::FaderDb(-7.0) })).unwrap();
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: feeders.clone(), change: StripChange::Solo(true) })).unwrap();
    let settings = Settings::StereoImage(StereoImage::default());
    apply(&mut s, &Edit::AddProcessor(AddProcessor { strips: feeders, settings, key: None, at: None })).unwrap();
    let (leader, voice) = (Some(s.voices[0].id), s.voices[1].id);
    apply(&mut s, &Edit::Follow(Follow { voice, leader })).unwrap();
    s
}

const EVERYTHING: TemplateKeeps = TemplateKeeps { audio: true, patterns: true, levels: true, chains: true };

#[test]
fn a_template_of_everything_is_the_session_without_its_solos() {
    let s = full();
    let mut expected = s.clone();
    expected.strips.iter_mut().for_each(|x| x.solo = false);
    assert_eq!(s.as_template(EVERYTHING), expected);
}

#[rstest]
#[case::audio(TemplateKeeps { audio: false, ..EVERYTHING })]
#[case::patterns(TemplateKeeps { patterns: false, ..EVERYTHING })]
#[case::levels(TemplateKeeps { levels: false, ..EVERYTHING })]
#[case::chains(TemplateKeeps { chains: false, ..EVERYTHING })]
fn a_template_leaves_what_it_is_told_to_leave(#[case] keeps: TemplateKeeps) {
    let s = full();
    let made = s.as_template(keeps);
    made.validate().unwrap();
    assert_eq!(made.assets.is_empty(), !keeps.audio);
    assert_eq!(made.voices.iter().all(|v| v.source == VoiceSource::Empty), !keeps.audio);
    assert_eq!(made.parts.is_empty(), !keeps.patterns);
    assert_eq!(made.voices[1].follows.is_none(), !keeps.patterns);
    let kick = made.strip(s.voices[0].channel).unwrap();
    assert_eq!(kick.fader_db, if keeps.levels { -7.0 } else { 0.0 });
    assert_eq!(kick.chain.is_empty(), !keeps.chains);
    // Routing stays whatever else goes.
    let routes = |s: &Session| -> Vec<_> {
        s.strips.iter().map(|x| (x.id, x.output, x.sends.iter().map(|d| d.to).collect::<Vec<_>>())).collect()
    };
    assert_eq!(routes(&made), routes(&s));
}

#[rstest]
#[case::send_to_a_bus(|s: &mut Session| s.strips[0].sends.push(StripSend::new(StripId(2))), "only returns take sends")]
#[case::output_to_a_return(|s: &mut Session| {
    let to = s.strips.iter().find(|x| x.kind == StripKind::Return).unwrap().id;
    s.strips[0].output = Some(to);
}, "only buses and main take other strips")]
#[case::heard_trigger(|s: &mut Session| s.strips[0].kind = StripKind::Trigger, "goes nowhere but into keys")]
#[case::send_level(|s: &mut Session| s.strips[0].sends[0].level_db = 40.0, "-100 to 12 dB is allowed")]
#[case::mix(|s: &mut Session| s.strips[0].chain[0].mix_percent = f64::NAN, "0 to 100 % is allowed")]
#[case::key_on_a_stereo_image(|s: &mut Session| s.strips[0].chain[0].key = Some(Key::new(StripId(2))), "takes no key")]
#[case::setting(|s: &mut Session| {
    s.strips[0].chain[0].settings =
        lane_dsp::Settings::StereoImage(lane_dsp::StereoImage { width_percent: 900.0, ..Default::default() });
}, "width of the stereo image of Kick is 900 %; 0 to 200 % is allowed")]
#[case::no_points(|s: &mut Session| set_points(s, &[]), "have to be there")]
#[case::points_that_go_back(|s: &mut Session| set_points(s, &[50.0, 20.0]), "in the order of their places")]
#[case::a_point_behind_the_end(|s: &mut Session| set_points(s, &[0.0, 120.0]), "is 120 %; 0 to 100 % is allowed")]
#[case::too_many_points(|s: &mut Session| set_points(s, &[1.0; 33]), "points of a beat shape")]
fn routing_and_chains_that_break_a_rule_are_refused(#[case] spoil: fn(&mut Session), #[case] reason: &str) {
    let mut s = full();
    s.validate().unwrap();
    spoil(&mut s);
    let error = s.validate().unwrap_err().to_string();
    assert!(error.contains(reason), "{error}");
}

/// A beat shape with points at some places, instead of the first processor.
fn set_points(s: &mut Session, places: &[f64]) {
    let points = places.iter().map(|at| ShapePoint { at_percent: *at, ..ShapePoint::default() }).collect();
    s.strips[0].chain[0].settings = Settings::BeatShape(BeatShape { points, ..BeatShape::default() });
}

#[test]
fn a_document_without_sends_and_solo_safety_can_still_be_read() {
    let mut json = serde_json::to_value(Session::new("Old", 48_000)).unwrap();
    for strip in json["strips"].as_array_mut().unwrap() {
        strip.as_object_mut().unwrap().remove("sends");
        strip.as_object_mut().unwrap().remove("solo_safe");
    }
    assert_eq!(serde_json::from_value::<Session>(json).unwrap(), Session::new("Old", 48_000));
}
