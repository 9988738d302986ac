use super::*;
use crate::session::Session;
use crate::session::{
    AssetRef, Family, Header, Hit, Key, Note, Pattern, Processor, Section, StemPlan, StripKind, StripSend, Take, Tap,
    VoiceSource,
};
use lane_dsp::Settings;
use lane_units::{AssetId, Name, PatternId, ProcessorId, ReferenceId, SectionId, StripId, TakeId, VoiceId};
use proptest::prelude::*;
use rstest::rstest;

fn voice(name: &str) -> NewVoice {
    NewVoice {
        trim_db: 0.0,
        name: name.parse().unwrap(),
        family: Family::Low,
        source: VoiceSource::Empty,
        output: None,
        hits: vec![],
    }
}

fn hit(at_ticks: u32) -> Hit {
    Hit::new(at_ticks, 120, 100, 0)
}

/// Kick, Snare and Hat, each on its channel.
pub(crate) fn kit() -> Session {
    let mut s = Session::new("Kit", 48_000);
    let voices = ["Kick", "Snare", "Hat"].map(voice).to_vec();
    apply(&mut s, &Edit::AddVoices(AddVoices { voices, assets: vec![] })).unwrap();
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
    assert_eq!(s.strip(channel(&s, "Snare")).unwrap().output, Some(s.mix_bus));
}

#[test]
fn names_stay_apart() {
    let mut s = kit();
    apply(&mut s, &Edit::AddVoices(AddVoices { voices: vec![voice("Kick"), voice("Kick")], assets: vec![] })).unwrap();
    let names: Vec<_> = s.voices.iter().map(|v| v.name.as_str()).collect();
    assert_eq!(names, ["Kick", "Snare", "Hat", "Kick 2", "Kick 3"]);
}

#[test]
fn renaming_a_voice_renames_its_channel() {
    let mut s = kit();
    let hat = named(&s, "Hat");
    apply(&mut s, &Edit::RenameVoice(RenameVoice { voice: hat, name: " Hat closed ".into() })).unwrap();
    assert_eq!(s.strip_name(channel(&s, "Hat closed")), "Hat closed");
}

#[test]
fn a_shared_channel_can_be_left_with_its_settings() {
    let mut s = kit();
    let (kick, hat, target) = (named(&s, "Kick"), named(&s, "Hat"), channel(&s, "Kick"));
    apply(&mut s, &Edit::ShareChannel(ShareChannel { voices: vec![hat], channel: target })).unwrap();
    assert_eq!(s.strip_name(target), "Kick + Hat");
    assert_eq!(s.strips.iter().filter(|x| x.kind == StripKind::Channel).count(), 2);
    apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![target], change: StripChange::FaderDb(-7.0) })).unwrap();
    apply(&mut s, &Edit::OwnChannels(OwnChannels { voices: vec![kick, hat] })).unwrap();
    assert_ne!(channel(&s, "Kick"), channel(&s, "Hat"));
    assert!(["Kick", "Hat"].iter().all(|n| s.strip(channel(&s, n)).unwrap().fader_db == -7.0));
}

#[test]
fn a_new_bus_takes_its_feeders_and_goes_where_they_went() {
    let mut s = kit();
    let feeders = vec![channel(&s, "Kick"), channel(&s, "Snare")];
    apply(&mut s, &Edit::NewBus(NewBus { name: "Drums".into(), feeders: feeders.clone() })).unwrap();
    let bus = s.strips.iter().find(|x| x.name == "Drums").unwrap().clone();
    assert!(feeders.iter().all(|f| s.strip(*f).unwrap().output == Some(bus.id)));
    let mix = s.strips.iter().find(|x| x.name == "Mix bus").unwrap().id;
    assert_eq!(bus.output, Some(mix));
    apply(&mut s, &Edit::RemoveStrip(RemoveStrip { strip: bus.id, feeders_to: Some(StripId(2)) })).unwrap();
    assert!(feeders.iter().all(|f| s.strip(*f).unwrap().output == Some(mix)));
}

#[test]
fn a_loop_is_refused_by_name_and_changes_nothing() {
    let mut s = kit();
    for (name, feeder) in [("Drums", channel(&s, "Kick")), ("Tops", channel(&s, "Hat"))] {
        apply(&mut s, &Edit::NewBus(NewBus { name: name.into(), feeders: vec![feeder] })).unwrap();
    }
    let id = |s: &Session, n: &str| s.strips.iter().find(|x| x.name == n).unwrap().id;
    let (drums, tops) = (id(&s, "Drums"), id(&s, "Tops"));
    apply(&mut s, &Edit::SetOutput(SetOutput { strips: vec![tops], output: Some(drums) })).unwrap();
    let before = s.clone();
    let error = apply(&mut s, &Edit::SetOutput(SetOutput { strips: vec![drums], output: Some(tops) })).unwrap_err();
    assert!(
        error.to_string().contains("Tops to Drums to Tops") || error.to_string().contains("Drums to Tops to Drums")
    );
    assert_eq!(s, before);
}

#[rstest]
#[case::gone(Edit::RenameVoice(RenameVoice { voice: VoiceId(900), name: "x".into() }), "voice 900 is not in the session")]
#[case::fader(Edit::SetStrips(SetStrips { strips: vec![StripId(2)], change: StripChange::FaderDb(40.0) }), "-100 to 12 dB")]
#[case::not_a_number(Edit::SetStrips(SetStrips { strips: vec![StripId(2)], change: StripChange::PanPercent(f64::NAN) }), "pan of Mix bus")]
#[case::nothing(Edit::OwnChannels(OwnChannels { voices: vec![] }), "nothing was chosen")]
#[case::main_out(Edit::SetOutput(SetOutput { strips: vec![StripId(1)], output: Some(StripId(2)) }), "only buses and main")]
#[case::used_pattern(Edit::RemovePattern(RemovePattern { pattern: PatternId(3) }), "played by section")]
#[case::last_section(Edit::RemoveSection(RemoveSection { section: SectionId(4) }), "at least one")]
#[case::empty_name(Edit::RenameStrip(RenameStrip { strip: StripId(2), name: "".into() }), "needs a name")]
#[case::half_batch(Edit::Batch { edits: vec![Edit::RenameStrip(RenameStrip { strip: StripId(2), name: "Sum".into() }), Edit::RemoveStrip(RemoveStrip { strip: StripId(1), feeders_to: None })] }, "not a bus or return")]
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
    let id = lane_units::AssetId("ab".repeat(32));
    let asset =
        AssetRef { id: id.clone(), name: "gtr.wav".into(), channels: 2, sample_rate: 48_000, frames: 48_000 * 60 };
    let new =
        NewVoice { trim_db: 0.0, source: VoiceSource::Recording { asset: id, start_frame: 0 }, ..voice("Guitar") };
    apply(&mut s, &Edit::AddVoices(AddVoices { voices: vec![new], assets: vec![asset] })).unwrap();
    // 60 s at 96 bpm are 96 beats, 24 bars.
    assert_eq!(s.sections.iter().map(|x| x.bars).sum::<u32>(), 24);
    let voices = s.voices.iter().map(|v| v.id).collect();
    apply(&mut s, &Edit::RemoveVoices(RemoveVoices { voices })).unwrap();
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
        tempo_bpm: Some(crate::session::Tempo::new(132.0).unwrap()),
        metre: None,
        remarks: vec![],
    };
    apply(&mut s, &Edit::AddTake(AddTake { take, sounds: vec![], to: vec![] })).unwrap();
    let names: Vec<_> = s.voices.iter().map(|v| v.name.as_str()).collect();
    assert_eq!(names, ["Kick", "Snare", "Hat", "Ride"]);
    assert_eq!(s.header.tempo_bpm.bpm(), 132.0);
    assert_eq!(s.sections.len(), 1);
    assert_eq!(s.sections[0].bars, 3);
    assert_eq!(s.hits(s.patterns[0].id, named(&s, "Kick")).len(), 1);
}

#[test]
fn a_shorter_pattern_drops_what_lies_behind_its_end() {
    let mut s = kit();
    let (pattern, voice) = (s.patterns[0].id, named(&s, "Kick"));
    apply(&mut s, &Edit::SetHits(SetHits { pattern, voice, hits: vec![hit(3900), hit(0)] })).unwrap();
    assert_eq!(s.hits(pattern, voice)[0].at_ticks, 0);
    let shorter = Pattern { bars: 1, ..(*s.patterns[0]).clone() };
    apply(&mut s, &Edit::SetPattern(SetPattern { pattern: shorter })).unwrap();
    assert_eq!(s.hits(pattern, voice), [hit(0)]);
}

/// Edits that may or may not fit the document they meet.
pub(crate) fn any_edit() -> impl Strategy<Value = Edit> {
    let voice_id = (5u32..16).prop_map(VoiceId);
    let strip_id = (1u32..16).prop_map(StripId);
    prop_oneof![
        "[a-z]{1,8}".prop_map(|n| Edit::AddVoices(AddVoices { voices: vec![voice(&n)], assets: vec![] })),
        prop::collection::vec(voice_id.clone(), 0..3).prop_map(|voices| Edit::RemoveVoices(RemoveVoices { voices })),
        (voice_id.clone(), "[a-z]{0,5}")
            .prop_map(|(voice, name)| Edit::RenameVoice(RenameVoice { voice, name: Name::cleaned(&name, "voice") })),
        (voice_id.clone(), 0u32..5).prop_map(|(voice, to)| Edit::MoveVoice(MoveVoice { voice, to })),
        (voice_id.clone(), prop::collection::vec(0u32..8000, 0..5)).prop_map(|(voice, at)| Edit::SetHits(SetHits {
            pattern: PatternId(3),
            voice,
            hits: at.into_iter().map(hit).collect()
        })),
        (strip_id.clone(), -120.0..20.0f64)
            .prop_map(|(s, db)| Edit::SetStrips(SetStrips { strips: vec![s], change: StripChange::FaderDb(db) })),
        (strip_id.clone(), prop::option::of(strip_id.clone()))
            .prop_map(|(s, output)| Edit::SetOutput(SetOutput { strips: vec![s], output })),
        prop::collection::vec(strip_id.clone(), 0..3)
            .prop_map(|feeders| Edit::NewBus(NewBus { name: "Bus".into(), feeders })),
        (strip_id.clone(), prop::option::of(strip_id.clone()))
            .prop_map(|(strip, feeders_to)| Edit::RemoveStrip(RemoveStrip { strip, feeders_to })),
        (prop::collection::vec(strip_id.clone(), 0..3), 0usize..13).prop_map(|(feeders, kind)| Edit::NewPath(
            NewPath {
                name: "Press".into(),
                feeders,
                processors: vec![Processor::new(ProcessorId(1), Settings::all()[kind].clone())],
            }
        )),
        (strip_id.clone(), -12_000..12_000i32).prop_map(|(s, frames)| Edit::SetStrips(SetStrips {
            strips: vec![s],
            change: StripChange::OffsetFrames(frames)
        })),
        (prop::collection::vec(strip_id.clone(), 0..3), any::<bool>())
            .prop_map(|(feeders, silent)| Edit::NewReturn(NewReturn { name: "Room".into(), feeders, silent })),
        (strip_id.clone(), strip_id.clone(), -130.0..20.0f64).prop_map(|(strip, to, level_db)| Edit::SetSend(
            SetSend { strips: vec![strip], send: StripSend { level_db, ..StripSend::new(to) } }
        )),
        (voice_id.clone(), any::<bool>())
            .prop_map(|(v, trigger)| Edit::SetTriggers(SetTriggers { voices: vec![v], trigger })),
        (voice_id.clone(), any::<bool>()).prop_map(|(like, follows)| Edit::NewTrigger(NewTrigger { like, follows })),
        (0usize..3).prop_map(|n| Edit::AddTriggers(AddTriggers { voices: vec![voice("Beat"); n], assets: vec![] })),
        (strip_id.clone(), strip_id.clone(), 0usize..13).prop_map(|(strip, source, kind)| Edit::AddProcessor(
            AddProcessor {
                strips: vec![strip],
                settings: Settings::all()[kind].clone(),
                key: Settings::all()[kind].takes_key().then(|| Key::new(source)),
                at: Some(0)
            }
        )),
        (strip_id.clone(), strip_id.clone(), any::<bool>()).prop_map(|(from, to, replace)| Edit::CopyChain(
            CopyChain { from, processors: vec![], to: vec![to], replace }
        )),
        (strip_id.clone(), any::<bool>(), 0usize..13).prop_map(|(strip, replace, kind)| Edit::InsertProcessors(
            InsertProcessors {
                strips: vec![strip],
                processors: vec![Processor::new(ProcessorId(1), Settings::all()[kind].clone())],
                at: Some(1),
                replace
            }
        )),
        (strip_id.clone(), prop::collection::vec(5u32..30, 0..4)).prop_map(|(strip, order)| Edit::OrderChain(
            OrderChain { strip, order: order.into_iter().map(ProcessorId).collect() }
        )),
        (voice_id.clone(), any::<bool>(), any::<bool>()).prop_map(|(voice, with_chain, follows)| {
            Edit::DuplicateVoice(DuplicateVoice { voice, with_chain, follows })
        }),
        (prop::collection::vec(voice_id.clone(), 1..3), strip_id.clone())
            .prop_map(|(voices, channel)| Edit::ShareChannel(ShareChannel { voices, channel })),
        prop::collection::vec(voice_id, 1..3).prop_map(|voices| Edit::OwnChannels(OwnChannels { voices })),
        (1u32..4000).prop_map(|frames| Edit::AddReference(AddReference {
            name: "Pier".into(),
            asset: AssetRef {
                id: AssetId(format!("{frames:064}")),
                name: "pier.wav".into(),
                channels: 2,
                sample_rate: 48_000,
                frames
            }
        })),
        (5u32..30).prop_map(|id| Edit::RemoveReference(RemoveReference { reference: ReferenceId(id) })),
        (0u32..9, 0u32..3).prop_map(|(bars, at)| Edit::AddSection(AddSection {
            name: "B".into(),
            pattern: PatternId(3),
            bars,
            at
        })),
        strip_id.prop_map(|s| {
            let plan = StemPlan { without: vec![s], tap: Tap::Dry, ..StemPlan::default() };
            Edit::SetStemPlan(SetStemPlan { plan })
        }),
    ]
}

/// Edits of hits and takes that may or may not fit the document they meet.
pub(crate) fn any_hits_edit() -> impl Strategy<Value = Edit> {
    let voice_id = (5u32..16).prop_map(VoiceId);
    let voices = prop::collection::vec(voice_id.clone(), 1..3);
    let pattern = PatternId(3);
    let range = (0u32..3, 1u32..3).prop_map(|(from, bars)| BarRange { from, bars });
    let change = prop_oneof![
        (1u32..2000, 0u32..500, any::<bool>()).prop_map(|(every_ticks, offset_ticks, instead)| HitsChange::Every {
            every_ticks,
            offset_ticks,
            velocity: 100,
            instead
        }),
        (0.0..120.0f64, any::<u32>()).prop_map(|(density_percent, seed)| HitsChange::Fill {
            step_ticks: 240,
            density_percent,
            velocity_from: 1,
            velocity_to: 127,
            seed
        }),
        Just(HitsChange::Clear),
        (0u32..4).prop_map(|bar| HitsChange::CopyTo { bar }),
    ];
    prop_oneof![
        (voices.clone(), range, change).prop_map(move |(voices, range, change)| Edit::ChangeHits(ChangeHits {
            pattern,
            voices,
            range,
            change
        })),
        (voices.clone(), prop::option::of(0u32..9000)).prop_map(move |(voices, ticks)| Edit::SetLoop(SetLoop {
            pattern,
            voices,
            ticks
        })),
        Just(Edit::DoublePattern(DoublePattern { pattern })),
        Just(Edit::AddTake(AddTake { take: kit_take(), sounds: vec![], to: vec![] })),
        (5u32..20).prop_map(|take| Edit::RemoveTake(RemoveTake { take: TakeId(take) })),
        (5u32..20, voice_id.clone()).prop_map(|(take, voice)| Edit::SplitTake(SplitTake {
            take: TakeId(take),
            splits: vec![Split { to: SplitTarget::Voice { voice }, keys: vec![key(36), key(41)] }]
        })),
        (voices, prop::option::of(0u8..20)).prop_map(|(voices, set)| Edit::SetChoke(SetChoke { voices, set })),
        (voice_id.clone(), prop::option::of(voice_id.clone()))
            .prop_map(|(voice, leader)| Edit::Follow(Follow { voice, leader })),
        (voice_id, any::<bool>(), any::<bool>()).prop_map(|(voice, with_chain, follows)| Edit::DuplicateVoice(
            DuplicateVoice { voice, with_chain, follows }
        )),
    ]
}

proptest! {
    #[test]
    fn any_edits_undone_give_the_same_document(edits in prop::collection::vec(prop_oneof![any_edit(), any_hits_edit()], 1..24)) {
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
            applied.back.apply_exactly(&mut s).unwrap();
            prop_assert_eq!(&s, &before);
        }
    }
}

#[test]
fn groups_go_on_buses_that_are_made_or_there() {
    let mut s = kit();
    apply(&mut s, &Edit::NewBus(NewBus { name: "Low".into(), feeders: vec![] })).unwrap();
    let group = |name: &str, strips: &[&str]| BusGroup {
        name: name.parse().unwrap(),
        strips: strips.iter().map(|n| channel(&s, n)).collect(),
    };
    let groups = vec![group("low", &["Kick"]), group("Tops", &["Snare", "Hat"])];
    apply(&mut s, &Edit::GroupOnBuses(GroupOnBuses { groups })).unwrap();
    let goes_to = |name: &str| s.strip_name(s.strip(channel(&s, name)).unwrap().output.unwrap());
    assert_eq!(["Kick", "Snare", "Hat"].map(goes_to), ["Low", "Tops", "Tops"]);
    let buses: Vec<_> = s.strips.iter().filter(|x| x.kind == StripKind::Bus).collect();
    assert_eq!(buses.len(), 3);
    assert!(buses.iter().all(|b| b.name == "Mix bus" || b.output == Some(s.mix_bus)));
}

fn kit_take() -> Take {
    let note = |key, at_ticks| Note { track: 0, channel: 9, key, velocity: 90, at_ticks, length_ticks: 60 };
    let notes = vec![note(36, 0), note(38, 960), note(41, 1200), note(45, 1440), note(50, 1680)];
    Take { name: "Kit".into(), tracks: vec![], notes, tempo_bpm: None, metre: None, remarks: vec![] }
}

fn key(key: u8) -> crate::session::NoteKey {
    crate::session::NoteKey { track: 0, channel: 9, key }
}

fn names(s: &Session) -> Vec<&str> {
    s.voices.iter().map(|v| v.name.as_str()).collect()
}

#[test]
fn a_take_is_kept_and_can_be_split_again_in_another_way() {
    let mut s = Session::new("Take", 48_000);
    apply(&mut s, &Edit::AddTake(AddTake { take: kit_take(), sounds: vec![], to: vec![] })).unwrap();
    assert_eq!(names(&s), ["Kick", "Snare", "Toms"]);
    let (take, pattern) = (s.takes[0].id, s.takes[0].pattern);
    let to = |name: &str| SplitTarget::Voice { voice: named(&s, name) };
    let new = |name: &str| SplitTarget::New {
        name: name.parse().unwrap(),
        family: Family::Percussion,
        melodic: false,
        sound: None,
    };
    let splits = vec![
        Split { to: to("Kick"), keys: vec![key(36), key(41)] },
        Split { to: new("Tom low"), keys: vec![key(45)] },
        Split { to: new("Tom high"), keys: vec![key(50)] },
    ];
    let applied = apply(&mut s, &Edit::SplitTake(SplitTake { take, splits })).unwrap();
    // What the first split made and nothing needs any more is gone; the snare's notes go nowhere.
    assert_eq!(names(&s), ["Kick", "Tom low", "Tom high"]);
    assert_eq!(s.hits(pattern, named(&s, "Kick")).iter().map(|h| h.at_ticks).collect::<Vec<_>>(), [0, 1200]);
    assert_eq!(s.takes[0].take, kit_take());
    applied.back.apply_exactly(&mut s).unwrap();
    assert_eq!(names(&s), ["Kick", "Snare", "Toms"]);
    apply(&mut s, &Edit::RemoveTake(RemoveTake { take })).unwrap();
    assert_eq!(s.hits(pattern, named(&s, "Toms")).len(), 3);
}

#[test]
fn a_lane_that_is_there_keeps_its_sound_and_gets_the_notes() {
    let mut s = kit();
    let (kick, pattern) = (named(&s, "Kick"), s.patterns[0].id);
    apply(&mut s, &Edit::SetHits(SetHits { pattern, voice: kick, hits: vec![hit(0)] })).unwrap();
    apply(&mut s, &Edit::AddTake(AddTake { take: kit_take(), sounds: vec![], to: vec![] })).unwrap();
    assert_eq!(names(&s), ["Kick", "Snare", "Hat", "Toms"]);
    // The song went on before: the take stands in a pattern and a section of its own.
    assert_eq!((s.patterns.len(), s.sections.len()), (2, 2));
    assert_eq!(s.hits(s.takes[0].pattern, kick).len(), 1);
    assert_eq!(s.hits(pattern, kick).len(), 1);
}

fn looped(frames: u32) -> (Session, VoiceId) {
    let mut s = Session::new("Loop", 48_000);
    s.header.tempo_bpm = crate::session::Tempo::new(120.0).unwrap();
    let id = lane_units::AssetId("cc".repeat(32));
    let asset = AssetRef { id: id.clone(), name: "loop.wav".into(), channels: 2, sample_rate: 48_000, frames };
    let new = NewVoice { trim_db: 0.0, source: VoiceSource::Recording { asset: id, start_frame: 0 }, ..voice("Loop") };
    apply(&mut s, &Edit::AddVoices(AddVoices { voices: vec![new], assets: vec![asset] })).unwrap();
    let voice = s.voices[0].id;
    (s, voice)
}

#[test]
fn a_loop_is_cut_into_layers_that_are_hit_where_they_were() {
    let (mut s, voice) = looped(96_000);
    let cut = Cut {
        voice,
        pattern: s.patterns[0].id,
        loop_bpm: 120.0,
        grid_ticks: 240,
        pieces: [(0, 24_100, 0), (24_100, 48_000, 1), (48_000, 96_000, 0)]
            .map(|(start_frame, end_frame, voice)| Piece { start_frame, end_frame, voice })
            .to_vec(),
        voices: ["Loop low", "Loop top"].map(|n| PieceVoice { name: n.into(), family: Family::Low }).to_vec(),
    };
    apply(&mut s, &Edit::CutLoop(CutLoop { cut: cut.clone() })).unwrap();
    assert_eq!(names(&s), ["Loop", "Loop low", "Loop top"]);
    let low = s.hits(cut.pattern, named(&s, "Loop low"));
    assert_eq!(low.iter().map(|h| (h.at_ticks, h.layer)).collect::<Vec<_>>(), [(0, Some(0)), (1920, Some(1))]);
    let top = s.hits(cut.pattern, named(&s, "Loop top"))[0];
    assert_eq!((top.at_ticks, top.shift_ticks), (960, 4));
    assert!(s.strip(channel(&s, "Loop")).unwrap().mute);
    let backwards = Cut { pieces: vec![Piece { start_frame: 500, end_frame: 400, voice: 0 }], ..cut.clone() };
    let refused = apply(&mut s, &Edit::CutLoop(CutLoop { cut: backwards })).unwrap_err().to_string();
    assert!(refused.contains("start before its end"), "{refused}");
    let nowhere = Cut { pieces: vec![], ..cut };
    assert_eq!(apply(&mut s, &Edit::CutLoop(CutLoop { cut: nowhere })), Err(EditError::Nothing));
}

#[test]
fn pieces_of_a_loop_are_as_loud_and_in_the_same_place_as_it_was() {
    let (mut s, voice) = looped(96_000);
    let loud = s.voice(voice).unwrap().channel;
    for change in [StripChange::TrimDb(-11.0), StripChange::FaderDb(-2.0), StripChange::PanPercent(-30.0)] {
        apply(&mut s, &Edit::SetStrips(SetStrips { strips: vec![loud], change })).unwrap();
    }
    let pieces = vec![Piece { start_frame: 0, end_frame: 96_000, voice: 0 }];
    let voices = vec![PieceVoice { name: "Cut".into(), family: Family::Low }];
    let cut = Cut { voice, pattern: s.patterns[0].id, loop_bpm: 120.0, grid_ticks: 240, pieces, voices };
    apply(&mut s, &Edit::CutLoop(CutLoop { cut })).unwrap();
    let own = s.strip(channel(&s, "Cut")).unwrap();
    assert_eq!((own.trim_db, own.fader_db, own.pan_percent), (-11.0, -2.0, -30.0));
}

#[test]
fn a_loop_in_another_tempo_lands_on_the_session_grid() {
    let (mut s, voice) = looped(120_000);
    // Two bars at 192 bpm, a hit on every second beat.
    let frames = |n: u32| n * 30_000;
    let pieces = (0..4).map(|n| Piece { start_frame: frames(n), end_frame: frames(n + 1), voice: 0 }).collect();
    let voices = vec![PieceVoice { name: "Cut".into(), family: Family::Low }];
    let cut = Cut { voice, pattern: s.patterns[0].id, loop_bpm: 192.0, grid_ticks: 240, pieces, voices };
    apply(&mut s, &Edit::CutLoop(CutLoop { cut: cut.clone() })).unwrap();
    let at: Vec<u32> = s.hits(cut.pattern, named(&s, "Cut")).iter().map(|h| h.at_ticks).collect();
    assert_eq!(at, [0, 1920, 3840, 5760]);
}

#[test]
fn a_follower_set_free_or_left_behind_keeps_the_hits() {
    let mut s = kit();
    let (kick, snare, pattern) = (named(&s, "Kick"), named(&s, "Snare"), s.patterns[0].id);
    apply(&mut s, &Edit::SetHits(SetHits { pattern, voice: kick, hits: vec![hit(0), hit(480)] })).unwrap();
    apply(&mut s, &Edit::Follow(Follow { voice: snare, leader: Some(kick) })).unwrap();
    let refused = apply(&mut s, &Edit::SetHits(SetHits { pattern, voice: snare, hits: vec![] })).unwrap_err();
    assert!(refused.to_string().contains("Snare follows Kick"));
    let chain = Edit::Follow(Follow { voice: named(&s, "Hat"), leader: Some(snare) });
    assert!(apply(&mut s, &chain).unwrap_err().to_string().contains("cannot follow"));
    let mut left = s.clone();
    apply(&mut s, &Edit::Follow(Follow { voice: snare, leader: None })).unwrap();
    assert_eq!(s.hits(pattern, snare), s.hits(pattern, kick));
    apply(&mut left, &Edit::RemoveVoices(RemoveVoices { voices: vec![kick] })).unwrap();
    assert_eq!(left.hits(pattern, snare).len(), 2);
    assert_eq!(left.voice(snare).unwrap().follows, None);
}

#[test]
fn a_bare_copy_has_a_channel_at_rest_and_hits_of_its_own() {
    let mut s = kit();
    let (kick, pattern) = (named(&s, "Kick"), s.patterns[0].id);
    apply(&mut s, &Edit::SetHits(SetHits { pattern, voice: kick, hits: vec![hit(0)] })).unwrap();
    let fader = Edit::SetStrips(SetStrips { strips: vec![channel(&s, "Kick")], change: StripChange::FaderDb(-9.0) });
    apply(&mut s, &fader).unwrap();
    apply(&mut s, &Edit::DuplicateVoice(DuplicateVoice { voice: kick, with_chain: false, follows: false })).unwrap();
    assert_eq!(names(&s)[..2], ["Kick", "Kick copy"]);
    assert_eq!(s.strip(channel(&s, "Kick copy")).unwrap().fader_db, 0.0);
    assert_eq!(s.hits(pattern, named(&s, "Kick copy")), s.hits(pattern, kick));
    apply(&mut s, &Edit::DuplicateVoice(DuplicateVoice { voice: kick, with_chain: true, follows: true })).unwrap();
    assert_eq!(s.strip(channel(&s, "Kick copy 2")).unwrap().fader_db, -9.0);
    assert_eq!(s.voice(named(&s, "Kick copy 2")).unwrap().follows, Some(kick));
}

#[test]
fn a_doubled_pattern_plays_its_hits_twice() {
    let mut s = kit();
    let (voice, pattern) = (named(&s, "Kick"), s.patterns[0].id);
    apply(&mut s, &Edit::SetHits(SetHits { pattern, voice, hits: vec![hit(120)] })).unwrap();
    apply(&mut s, &Edit::DoublePattern(DoublePattern { pattern })).unwrap();
    assert_eq!(s.patterns[0].bars, 4);
    assert_eq!(s.hits(pattern, voice).iter().map(|h| h.at_ticks).collect::<Vec<_>>(), [120, 7680 + 120]);
}

#[test]
fn parts_without_hits_cannot_be_looped_or_humanised() {
    let mut s = kit();
    let (voices, pattern) = (vec![named(&s, "Kick")], s.patterns[0].id);
    assert_eq!(apply(&mut s, &Edit::SetLoop(SetLoop { pattern, voices, ticks: Some(960) })), Err(EditError::NoHits));
}

#[rstest]
#[case::start(|l: &mut crate::session::Layer| l.start_frame = 96_000, "start before its end")]
#[case::end(|l: &mut crate::session::Layer| l.end_frame = Some(96_001), "has 96000 frames")]
#[case::decay(|l: &mut crate::session::Layer| l.decay = Some(crate::session::Decay { hold_ms: 0.0, ms: f64::NAN, curve_percent: 0.0 }), "decay of Loop")]
#[case::sweep(|l: &mut crate::session::Layer| l.sweep = Some(crate::session::PitchSweep { depth_st: 60.0, ms: 10.0 }), "-48 to 48 st")]
#[case::velocity(|l: &mut crate::session::Layer| l.velocity_percent = 101.0, "0 to 100 %")]
#[case::delay(|l: &mut crate::session::Layer| l.delay_ms = 500.5, "0 to 500 ms")]
fn a_layer_out_of_its_bounds_is_refused(#[case] change: fn(&mut crate::session::Layer), #[case] says: &str) {
    let (mut s, voice) = looped(96_000);
    let mut layer = crate::session::Layer::new(s.assets[0].id.clone());
    change(&mut layer);
    let source = VoiceSource::OneShot { layers: vec![layer], hold: crate::session::Hold::Whole };
    let before = s.clone();
    let refused = apply(&mut s, &Edit::SetSource(SetSource { voice, source, assets: vec![] })).unwrap_err().to_string();
    assert!(refused.contains(says), "{refused}");
    assert_eq!(s, before);
}

#[rstest]
#[case::whole(0.0, true)]
#[case::down(-9.3, true)]
#[case::up(24.0, true)]
#[case::too_far_up(24.5, false)]
#[case::no_number(f64::NAN, false)]
fn a_new_voice_comes_with_its_trim(#[case] trim_db: f64, #[case] fits: bool) {
    let mut s = Session::new("Trimmed", 48_000);
    let before = s.clone();
    let voice = NewVoice {
        trim_db,
        name: "Kick".into(),
        family: Family::Low,
        source: VoiceSource::Empty,
        output: None,
        hits: vec![],
    };
    let done = apply(&mut s, &Edit::AddVoices(AddVoices { voices: vec![voice], assets: vec![] }));
    assert_eq!(done.is_ok(), fits, "{done:?}");
    match done {
        Ok(_) => assert_eq!(s.strip(s.voices[0].channel).unwrap().trim_db, trim_db),
        Err(_) => assert_eq!(s, before),
    }
}

mod balance;
mod bounds;
mod chains;
mod documents;
mod losses;
mod placing;
mod references;
mod routed;
mod shared;
