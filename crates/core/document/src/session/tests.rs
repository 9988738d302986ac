use super::*;
use lane_units::StripId;
use rstest::rstest;

/// Two voices on channels of their own and a hit each.
fn small() -> Session {
    let mut s = Session::new("Small", 48_000);
    let mix = Some(s.mix_bus);
    for name in ["Kick", "Snare"] {
        let channel = StripId(s.take_id());
        s.strips.push(Strip::new(channel, StripKind::Channel, "".into(), mix).into());
        let id = lane_units::VoiceId(s.take_id());
        s.voices.push(Voice::new(id, name.into(), Family::Low, VoiceSource::Empty, channel).into());
        let hit = Hit::new(240, 240, 100, 0);
        s.parts.push(Part::new(s.patterns[0].id, id, vec![hit]).into());
    }
    s
}

#[test]
fn a_new_session_is_valid_and_reads_back_the_same() {
    let s = Session::new("New", 44_100);
    s.validate().unwrap();
    let json = serde_json::to_string(&s).unwrap();
    assert_eq!(serde_json::from_str::<Session>(&json).unwrap(), s);
}

#[rstest]
#[case::schema(|s: &mut Session| s.schema = 9, "schema 9")]
#[case::rate(|s: &mut Session| s.header.sample_rate = 8_000, "8000 Hz")]
#[case::two_mains(|s: &mut Session| s.strips[1].kind = StripKind::Main, "has 2")]
#[case::fader(|s: &mut Session| s.strips[1].fader_db = 12.5, "-100 to 12 dB")]
#[case::output(|s: &mut Session| s.strips[1].output = Some(StripId(99)), "strip 99")]
#[case::output_is_channel(|s: &mut Session| s.strips[1].output = Some(s.strips[2].id), "only buses and main")]
#[case::voice_channel(|s: &mut Session| s.voices[0].channel = StripId(1), "channel 1")]
#[case::empty_name(|s: &mut Session| s.strips[1].name = "".into(), "needs a name")]
#[case::hit_outside(|s: &mut Session| s.parts[0].hits[0].at_ticks = 7680, "behind the pattern's end")]
#[case::velocity(|s: &mut Session| s.parts[0].hits[0].velocity = 0, "velocity")]
#[case::mix_bus_gone(|s: &mut Session| s.mix_bus = StripId(99), "the mix bus is not a bus")]
#[case::mix_bus_is_channel(|s: &mut Session| s.mix_bus = s.strips[2].id, "the mix bus is not a bus")]
#[case::no_sections(|s: &mut Session| s.sections.clear(), "at least one")]
#[case::part_twice(|s: &mut Session| { let p = s.parts[0].clone(); s.parts.push(p) }, "twice")]
fn faults_are_named(#[case] spoil: fn(&mut Session), #[case] says: &str) {
    let mut s = small();
    s.validate().unwrap();
    spoil(&mut s);
    let message = s.validate().unwrap_err().to_string();
    assert!(message.contains(says), "{message}");
}

#[test]
fn a_patch_leads_there_and_back() {
    let old = small();
    let mut new = old.clone();
    new.voices.swap(0, 1);
    new.voices[0].name = "Rim".into();
    new.strips.remove(1);
    new.mix_bus = StripId(1);
    new.header.key = "A min".into();
    let (there, back) = (Patch::between(&old, &new), Patch::between(&new, &old));
    let mut walked = old.clone();
    there.apply(&mut walked).unwrap();
    assert_eq!(walked, new);
    back.apply(&mut walked).unwrap();
    assert_eq!(walked, old);
    assert!(Patch::between(&old, &old).is_empty());
}

#[test]
fn a_change_in_place_names_its_place_alone() {
    let old = small();
    let mut new = old.clone();
    new.strips[1].fader_db = -3.0;
    let patch = Patch::between(&old, &new);
    let json = serde_json::to_value(&patch).unwrap();
    assert_eq!(json["strips"]["at"], serde_json::json!([1]));
    assert_eq!((json["strips"].get("order"), json.as_object().unwrap().len()), (None, 1));
}

#[test]
fn patches_of_before_that_say_where_everything_comes_from_are_read() {
    let mut s = small();
    let strip = Strip { fader_db: -3.0, ..(*s.strips[1]).clone() };
    let order: Vec<usize> = (0..s.strips.len()).map(|n| if n == 1 { s.strips.len() } else { n }).collect();
    let json = serde_json::json!({ "strips": { "set": [strip], "order": order } });
    serde_json::from_value::<Patch>(json).unwrap().apply(&mut s).unwrap();
    assert_eq!((s.strips[1].fader_db, s.strips[0].fader_db), (-3.0, 0.0));
}

#[rstest]
#[case::too_far(vec![99])]
#[case::one_too_many(vec![0, 1])]
#[case::none(vec![])]
fn a_change_in_place_that_does_not_fit_changes_nothing(#[case] at: Vec<u32>) {
    let mut s = small();
    let before = s.clone();
    let json = serde_json::json!({ "strips": { "set": [*s.strips[1]], "at": at } });
    assert!(serde_json::from_value::<Patch>(json).unwrap().apply(&mut s).is_err());
    assert_eq!(s, before);
}

#[test]
fn a_patch_for_another_document_changes_nothing() {
    let old = small();
    let mut longer = old.clone();
    longer.voices.push(Voice { name: "Clap".into(), ..(*longer.voices[0]).clone() }.into());
    let mut shorter = longer.clone();
    shorter.voices.remove(0);
    let patch = Patch::between(&longer, &shorter);
    let mut other = Session::new("Other", 48_000);
    let before = other.clone();
    assert!(patch.apply(&mut other).is_err());
    assert_eq!(other, before);
}

#[rstest]
#[case::straight(50.0, 240, 0.0)]
#[case::off_beat(66.0, 240, 0.32 * 240.0)]
#[case::on_beat(66.0, 480, 0.0)]
#[case::played_late(66.0, 250, 0.32 * 240.0)]
fn swing_moves_off_beats_only(#[case] percent: f64, #[case] at: u32, #[case] shift: f64) {
    let swing = Swing { percent, grid: SwingGrid::Sixteenth };
    assert!((swing.shift_ticks(at) - shift).abs() < 1e-9);
}

#[test]
fn sections_repeat_and_cut_their_pattern() {
    let mut s = small();
    s.sections[0].bars = 3;
    let song = Song::new(&s);
    let mut at = Vec::new();
    song.sounds_of(&s, s.voices[0].id, Feel::Written, |sound| at.push(sound.at_ticks));
    assert_eq!(at, [240.0, 7920.0]);
    assert_eq!(song.bars(), 3);
}

#[test]
fn ten_minutes_in_a_hit_is_on_its_sample() {
    let mut s = small();
    s.header.tempo_bpm = crate::session::Tempo::new(93.7).unwrap();
    let song = Song::new(&s);
    let ticks = 900_000.0;
    let exact = ticks / 960.0 * 60.0 / 93.7 * 48_000.0;
    assert!((song.frame_at(ticks) as f64 - exact).abs() <= 0.5);
}

#[rstest]
#[case("Kick_808_hard", Some(Family::Low))]
#[case("Open Hi-Hat", Some(Family::Hats))]
#[case("tom low 2", Some(Family::Percussion))]
#[case("SubBass F#", Some(Family::Bass))]
#[case("bass drum 1", Some(Family::Low))]
#[case("E piano chords", Some(Family::Music))]
#[case("clap-layered", Some(Family::Snare))]
#[case("take 7", None)]
fn names_speak_for_families(#[case] name: &str, #[case] family: Option<Family>) {
    assert_eq!(Role::of(name).family(), family);
}

#[rstest]
#[case(1.0, 8_388_607)]
#[case(-1.5, -8_388_608)]
#[case(0.5, 4_194_304)]
fn depth_24_rounds_and_holds(#[case] sample: f64, #[case] written: i32) {
    assert_eq!(Depth::to_int24(sample), written);
}
