use super::*;
use crate::edit::{
    AddProcessor, AddVoices, DismissCheck, DuplicateVoice, Edit, NewBus, NewHits, NewReturn, NewTrigger, NewVoice,
    ProcessorChange, RemoveProcessors, RemoveStrip, RemoveVoices, RenameVoice, SetFamily, SetHits, SetOutput,
    SetProcessor, SetSend, SetSource, SetStrips, StripChange, apply,
};
use crate::session::{AssetRef, Family, Hit, Hold, Key, Layer, Polarity, SendTap, Session, StripSend, VoiceSource};
use lane_dsp::stereo_image::Polarities;
use lane_dsp::{Compressor, Gate, Settings, StereoImage};
use lane_units::{AssetId, OFF_DB, ProcessorId, StripId, VoiceId};
use rstest::rstest;

/// A snare with hits on the bus Tops and a kick on the mix bus; a return Crush that compresses the snare.
fn beat() -> Session {
    let mut s = Session::new("Beat", 48_000);
    let asset = |byte: &str| {
        let (id, name) = (AssetId(byte.repeat(32)), format!("{byte}.wav").parse().unwrap());
        AssetRef { id, name, channels: 1, sample_rate: 48_000, frames: 4800 }
    };
    let assets = vec![asset("aa"), asset("bb")];
    let pattern = s.patterns[0].id;
    let voice = |name: &str, at: usize| NewVoice {
        trim_db: 0.0,
        name: name.parse().unwrap(),
        family: Family::Snare,
        source: VoiceSource::OneShot { layers: vec![Layer::new(assets[at].id.clone())], hold: Hold::Whole },
        output: None,
        hits: vec![NewHits { pattern, hits: vec![Hit::new(0, 240, 100, 0)] }],
    };
    let voices = vec![voice("Snare", 0), voice("Kick", 1)];
    apply(&mut s, &Edit::AddVoices(AddVoices { voices, assets: assets.clone() })).unwrap();
    let feeders = vec![s.voices[0].channel];
    apply(&mut s, &Edit::NewBus(NewBus { name: "Tops".into(), feeders: feeders.clone() })).unwrap();
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Crush".into(), feeders, silent: false })).unwrap();
    add(&mut s, "Crush", Settings::Compressor(Compressor::default()), None);
    s
}

fn snare(s: &Session) -> (VoiceId, StripId) {
    (s.voices[0].id, s.voices[0].channel)
}

fn named(s: &Session, name: &str) -> StripId {
    s.strips.iter().map(|x| x.id).find(|id| s.strip_name(*id) == name).unwrap()
}

fn add(s: &mut Session, strip: &str, settings: Settings, key: Option<Key>) -> ProcessorId {
    let strips = vec![named(s, strip)];
    apply(s, &Edit::AddProcessor(AddProcessor { strips, settings, key, at: None })).unwrap();
    s.strip(named(s, strip)).unwrap().chain.last().unwrap().id
}

fn question(s: &Session) -> TraceQuestion {
    let (voice, strip) = snare(s);
    let voice = Some(voice);
    TraceQuestion { voice, layer: None, strip, from_bar: 0, bars: 4, missing: vec![], late: vec![], shut: vec![] }
}

fn of_snare(s: &Session) -> Trace {
    trace(s, &question(s))
}

/// The snare once more, following it, its lane changed.
fn copied(s: &Session, changes: Vec<StripChange>) -> Edit {
    let (voice, _) = snare(s);
    let strip = StripId(s.next_id);
    let mut edits = vec![Edit::DuplicateVoice(DuplicateVoice { voice, with_chain: false, follows: true })];
    edits.extend(changes.into_iter().map(|change| set(strip, change)));
    Edit::Batch { edits }
}

/// A strip 5 ms later.
fn delayed(strip: StripId) -> Edit {
    let settings = Settings::StereoImage(StereoImage { delay_frames: 240.0, ..StereoImage::default() });
    Edit::AddProcessor(AddProcessor { strips: vec![strip], settings, key: None, at: None })
}

fn set(strip: StripId, change: StripChange) -> Edit {
    Edit::SetStrips(SetStrips { strips: vec![strip], change })
}

fn send(s: &Session, change: impl Fn(StripSend) -> StripSend) -> Edit {
    Edit::SetSend(SetSend { strips: vec![snare(s).1], send: change(StripSend::new(named(s, "Crush"))) })
}

/// Without the return, so that a lane has one way.
fn one_way() -> Session {
    let mut s = beat();
    let strip = named(&s, "Crush");
    apply(&mut s, &Edit::RemoveStrip(RemoveStrip { strip, feeders_to: None })).unwrap();
    s
}

#[test]
fn a_lane_that_is_heard_says_its_ways() {
    let found = of_snare(&one_way());
    assert_eq!(found.sentence, "Snare goes to Tops, then Mix bus, then Main.");
    assert!(!found.silent && found.repair.is_none());
    let names: Vec<_> = found.ways[0].steps.iter().map(|s| s.name.as_str()).collect();
    assert_eq!(names, ["Snare", "Tops", "Mix bus", "Main"]);
    let both = of_snare(&beat());
    assert_eq!(
        both.sentence,
        "Snare goes to Tops, then Mix bus, then Main. It also goes by a send to Crush, then Mix bus, then Main. \
         Together they come about 6.0 dB louder than the loudest alone, as long as nothing is reduced."
    );
    assert_eq!(both.ways[1].gain_db, Some(0.0));
    assert!(both.ways[1].steps[1].by_send);
}

type Silence = fn(&Session) -> Edit;

#[rstest]
#[case::mute(|s: &Session| set(snare(s).1, StripChange::Mute(true)), "it is muted")]
#[case::bus_mute(|s: &Session| set(named(s, "Tops"), StripChange::Mute(true)), "its bus Tops is muted")]
#[case::main_mute(|s: &Session| set(named(s, "Main"), StripChange::Mute(true)), "main is muted")]
#[case::solo(|s: &Session| set(s.voices[1].channel, StripChange::Solo(true)), "solo is on at Kick")]
#[case::fader(|s: &Session| set(snare(s).1, StripChange::FaderDb(OFF_DB)), "the fader of it is off")]
#[case::bus_trim(|s: &Session| set(named(s, "Tops"), StripChange::TrimDb(OFF_DB)), "the trim of its bus Tops is off")]
#[case::no_output(|s: &Session| Edit::SetOutput(SetOutput { strips: vec![snare(s).1], output: None }), "it goes to nothing")]
#[case::bus_no_output(|s: &Session| Edit::SetOutput(SetOutput { strips: vec![named(s, "Tops")], output: None }), "its bus Tops goes to nothing")]
#[case::mix_no_output(|s: &Session| Edit::SetOutput(SetOutput { strips: vec![named(s, "Mix bus")], output: None }), "its bus Mix bus goes to nothing")]
#[case::layers_off(|s: &Session| {
    let VoiceSource::OneShot { layers, hold } = s.voices[0].source.clone() else { unreachable!() };
    let layers = layers.into_iter().map(|l| Layer { gain_db: OFF_DB, ..l }).collect();
    Edit::SetSource(SetSource { voice: snare(s).0, source: VoiceSource::OneShot { layers, hold }, assets: vec![] })
}, "all its layers are off")]
#[case::stereo_image(|s: &Session| Edit::AddProcessor(AddProcessor {
    strips: vec![snare(s).1],
    settings: Settings::StereoImage(StereoImage { gain_db: OFF_DB, ..StereoImage::default() }),
    key: None,
    at: None,
}), "the gain of a stereo image of it is off")]
fn the_first_thing_that_stops_a_lane_is_named_and_repaired(#[case] silence: Silence, #[case] reason: &str) {
    let mut s = one_way();
    let edit = silence(&s);
    apply(&mut s, &edit).unwrap();
    let found = of_snare(&s);
    assert!(found.silent);
    assert_eq!(found.sentence, format!("Snare is silent: {reason}."));
    apply(&mut s, &found.repair.unwrap().edit).unwrap();
    assert!(!of_snare(&s).silent, "{}", of_snare(&s).sentence);
}

/// The snare reaches main by its send alone.
fn by_send_alone() -> Session {
    let mut s = beat();
    let mute = set(named(&s, "Tops"), StripChange::Mute(true));
    apply(&mut s, &mute).unwrap();
    s
}

#[rstest]
#[case::send_muted(|s: &Session| send(s, |send| StripSend { mute: true, ..send }), "the send of it to Crush is muted")]
#[case::send_off(|s: &Session| send(s, |send| StripSend { level_db: OFF_DB, ..send }), "the send of it to Crush is off")]
#[case::return_muted(|s: &Session| set(named(s, "Crush"), StripChange::Mute(true)), "its return Crush is muted")]
#[case::return_silent(|s: &Session| set(named(s, "Crush"), StripChange::FaderDb(OFF_DB)), "the fader of its return Crush is off")]
#[case::return_out(|s: &Session| Edit::SetOutput(SetOutput { strips: vec![named(s, "Crush")], output: None }), "its return Crush goes to nothing")]
fn ways_by_sends_are_explained_too(#[case] silence: Silence, #[case] reason: &str) {
    let mut s = by_send_alone();
    let open = of_snare(&s);
    assert!(!open.silent, "{}", open.sentence);
    assert!(open.sentence.contains("Another way of it is stopped: its bus Tops is muted."), "{}", open.sentence);
    let edit = silence(&s);
    apply(&mut s, &edit).unwrap();
    let found = of_snare(&s);
    assert!(found.silent);
    let stops: Vec<_> = found.ways.iter().flat_map(|w| &w.steps).filter_map(|step| step.stop.clone()).collect();
    assert!(stops.iter().any(|stop| stop == reason), "{stops:?}");
}

#[test]
fn a_send_before_the_fader_does_not_need_it() {
    let mut s = beat();
    let (_, strip) = snare(&s);
    apply(&mut s, &set(strip, StripChange::FaderDb(OFF_DB))).unwrap();
    assert!(of_snare(&s).silent);
    let edit = send(&s, |send| StripSend { tap: SendTap::PreFader, ..send });
    apply(&mut s, &edit).unwrap();
    assert!(!of_snare(&s).silent);
}

#[rstest]
#[case::strip(|s: &mut Session| {
    let edit = set(named(s, "Crush"), StripChange::Polarity(Polarity::Inverted));
    apply(s, &edit).unwrap();
})]
#[case::stereo_image(|s: &mut Session| {
    add(s, "Crush", Settings::StereoImage(StereoImage { polarity: Polarities::Both, ..StereoImage::default() }), None);
})]
fn two_ways_that_cancel_are_silence(#[case] turn: fn(&mut Session)) {
    let mut s = beat();
    let strip = named(&s, "Crush");
    let processors = vec![s.strip(strip).unwrap().chain[0].id];
    apply(&mut s, &Edit::RemoveProcessors(RemoveProcessors { strip, processors })).unwrap();
    turn(&mut s);
    let found = of_snare(&s);
    assert!(found.silent && found.sentence.ends_with("and the two cancel."), "{}", found.sentence);
    let told = "What Crush adds is out of polarity with the sound beside it: they cancel completely.";
    assert!(checks(&s).iter().any(|c| c.sentence == told));
    let repair = found.repair.unwrap();
    assert_eq!(repair.name, "Turn Crush the right way round");
    apply(&mut s, &repair.edit).unwrap();
    assert!(of_snare(&s).sentence.ends_with("Together they come 6.0 dB louder than the loudest alone."));
}

#[test]
fn a_gate_that_never_opens_and_a_delay_are_told() {
    let mut s = one_way();
    let gate = add(&mut s, "Tops", Settings::Gate(Gate::default()), None);
    assert!(!of_snare(&s).silent);
    let found = trace(&s, &TraceQuestion { shut: vec![gate], ..question(&s) });
    assert_eq!(found.sentence, "Snare is silent: the gate of its bus Tops never opens.");
    apply(&mut s, &found.repair.unwrap().edit).unwrap();
    assert!(!trace(&s, &TraceQuestion { shut: vec![gate], ..question(&s) }).silent);

    let mut s = beat();
    add(&mut s, "Crush", Settings::StereoImage(StereoImage { delay_frames: 24.0, ..StereoImage::default() }), None);
    assert!(of_snare(&s).sentence.contains("then Main, 24 samples (0.5 ms) later."), "{}", of_snare(&s).sentence);
}

#[test]
fn no_hits_no_sound_and_missing_samples_are_told() {
    let mut s = one_way();
    let (voice, _) = snare(&s);
    let pattern = s.patterns[0].id;
    apply(&mut s, &Edit::SetHits(SetHits { pattern, voice, hits: vec![Hit::new(3840, 240, 100, 0)] })).unwrap();
    let within = |bars| trace(&s, &TraceQuestion { bars, ..question(&s) });
    assert_eq!(within(1).sentence, "Snare is silent: it has no hits in bar 1.");
    assert!(!within(2).silent);
    let missing = vec![AssetId("aa".repeat(32))];
    let found = trace(&s, &TraceQuestion { missing: missing.clone(), ..question(&s) });
    assert!(found.sentence.starts_with("Snare is silent: its sample aa.wav is missing"), "{}", found.sentence);
    // One that is on its way is another thing.
    let found = trace(&s, &TraceQuestion { late: missing, ..question(&s) });
    assert!(found.sentence.starts_with("Snare is silent: its sample aa.wav is not loaded yet"), "{}", found.sentence);
    // A bus has no hits of its own to miss.
    let bus = TraceQuestion { voice: None, strip: named(&s, "Tops"), bars: 1, ..question(&s) };
    assert!(!trace(&s, &bus).silent);
    apply(&mut s, &Edit::SetSource(SetSource { voice, source: VoiceSource::Empty, assets: vec![] })).unwrap();
    assert!(of_snare(&s).sentence.starts_with("Snare is silent: it has no sound yet"));
}

#[test]
fn one_layer_can_be_asked_about() {
    let mut s = one_way();
    let (voice, _) = snare(&s);
    let layer = Layer::new(AssetId("aa".repeat(32)));
    let layers = vec![layer.clone(), Layer { gain_db: OFF_DB, ..layer }];
    let source = VoiceSource::OneShot { layers, hold: Hold::Whole };
    apply(&mut s, &Edit::SetSource(SetSource { voice, source, assets: vec![] })).unwrap();
    let of = |s: &Session, layer| trace(s, &TraceQuestion { layer: Some(layer), ..question(s) });
    assert!(!of(&s, 0).silent);
    let found = of(&s, 1);
    assert_eq!(found.sentence, "Layer 2 of Snare is silent: its gain is off.");
    apply(&mut s, &found.repair.unwrap().edit).unwrap();
    assert!(!of(&s, 1).silent);
}

#[test]
fn a_trigger_is_silent_on_purpose() {
    let mut s = one_way();
    let (like, _) = snare(&s);
    apply(&mut s, &Edit::NewTrigger(NewTrigger { like, follows: true })).unwrap();
    let trigger = s.voices.iter().find(|v| v.name == "Snare trigger").unwrap();
    let asked = TraceQuestion { voice: Some(trigger.id), strip: trigger.channel, ..question(&s) };
    let found = trace(&s, &asked);
    assert!(found.silent && found.on_purpose && found.repair.is_none());
    assert!(found.sentence.ends_with("it is a trigger. It keys nothing yet."), "{}", found.sentence);
    let key = Some(Key::new(trigger.channel));
    add(&mut s, "Kick", Settings::Compressor(Compressor::default()), key);
    assert!(trace(&s, &asked).sentence.ends_with("It keys the compressor of Kick."));
    assert_eq!(checks(&s), []);
}

#[rstest]
#[case::straight(|s: &Session| Edit::SetOutput(SetOutput { strips: vec![snare(s).1], output: Some(named(s, "Main")) }), "Snare goes straight into main, past Mix bus.")]
#[case::nowhere(|s: &Session| Edit::SetOutput(SetOutput { strips: vec![named(s, "Kick")], output: None }), "Kick goes to nothing.")]
#[case::return_nowhere(|s: &Session| Edit::SetOutput(SetOutput { strips: vec![named(s, "Crush")], output: None }), "Crush goes to nothing.")]
#[case::empty(|_: &Session| Edit::NewBus(NewBus { name: "Spare".into(), feeders: vec![] }), "Nothing feeds the bus Spare.")]
#[case::unfed(|_: &Session| Edit::NewReturn(NewReturn { name: "Hall".into(), feeders: vec![], silent: false }), "Nothing feeds the return Hall.")]
#[case::names(|s: &Session| Edit::RenameVoice(RenameVoice { voice: snare(s).0, name: "kick".into() }), "2 rows are called Kick.")]
#[case::solo(|s: &Session| set(snare(s).1, StripChange::Solo(true)), "Solo is on at Snare; the rest is silent in the mix and in stems.")]
#[case::mute(|s: &Session| set(snare(s).1, StripChange::Mute(true)), "Snare is muted and will be silent in its stem.")]
#[case::muted_return(|s: &Session| set(named(s, "Crush"), StripChange::Mute(true)), "Snare sends to Crush, which is muted.")]
#[case::polarity(|s: &Session| set(named(s, "Crush"), StripChange::Polarity(Polarity::Inverted)), "What Crush adds is out of polarity with the sound beside it.")]
#[case::turned_dry(|s: &Session| set(named(s, "Tops"), StripChange::Polarity(Polarity::Inverted)), "What Crush adds is out of polarity with the sound beside it.")]
#[case::twice(|s: &Session| Edit::NewReturn(NewReturn { name: "Copy".into(), feeders: vec![named(s, "Kick")], silent: false }), "Kick arrives twice: it also goes by a send to Copy, then Mix bus, then Main, 6.0 dB louder in all.")]
#[case::same_sound(|s: &Session| Edit::DuplicateVoice(DuplicateVoice { voice: snare(s).0, with_chain: false, follows: true }), "Snare and Snare copy play the same sound at the same time, 6.0 dB louder than the louder alone.")]
#[case::cancels(|s: &Session| copied(s, vec![StripChange::Polarity(Polarity::Inverted)]), "Snare and Snare copy play the same sound at the same time, one of them inverted: they cancel completely.")]
#[case::cancels_in_part(|s: &Session| copied(s, vec![StripChange::Polarity(Polarity::Inverted), StripChange::FaderDb(-6.0)]), "Snare and Snare copy play the same sound at the same time, one of them inverted: they cancel by 6.0 dB.")]
#[case::late_copy(|s: &Session| Edit::Batch { edits: vec![copied(s, vec![]), delayed(StripId(s.next_id))] }, "Snare and Snare copy play the same sound at the same time, Snare copy 240 samples (5.0 ms) later: together they comb.")]
#[case::late_way(|s: &Session| Edit::Batch { edits: vec![
    Edit::NewReturn(NewReturn { name: "Copy".into(), feeders: vec![named(s, "Kick")], silent: false }),
    delayed(StripId(s.next_id)),
] }, "Kick also goes by a send to Copy, then Mix bus, then Main, 240 samples (5.0 ms) later: together they comb.")]
#[case::dead_key(|s: &Session| {
    let quiet = NewVoice { trim_db: 0.0, name: "Pad".into(), family: Family::Music, source: s.voices[0].source.clone(), output: None, hits: vec![] };
    let pad = StripId(s.next_id);
    Edit::Batch { edits: vec![
        Edit::AddVoices(AddVoices { voices: vec![quiet], assets: vec![] }),
        Edit::AddProcessor(AddProcessor {
            strips: vec![named(s, "Kick")],
            settings: Settings::Compressor(Compressor::default()),
            key: Some(Key::new(pad)),
            at: None,
        }),
    ] }
}, "The compressor of Kick listens to Pad, which never sounds.")]
#[case::lost_key(|s: &Session| Edit::Batch { edits: vec![
    Edit::AddProcessor(AddProcessor {
        strips: vec![named(s, "Tops")],
        settings: Settings::Gate(Gate::default()),
        key: Some(Key::new(named(s, "Kick"))),
        at: None,
    }),
    Edit::RemoveVoices(RemoveVoices { voices: vec![s.voices[1].id] }),
] }, "The gate of Tops listens to a lane that was removed.")]
#[case::fader_moves_key(|s: &Session| duck(s, "Tops", "Kick", |k| Key { tap: SendTap::PostFader, ..k }, slow()), "The compressor of Tops listens to Kick after its fader: whoever moves that, moves how deep it ducks.")]
#[case::under_muted(|s: &Session| Edit::Batch { edits: vec![duck(s, "Tops", "Kick", |k| k, slow()), set(named(s, "Kick"), StripChange::Mute(true))] }, "The compressor of Tops ducks under Kick, which is muted; a trigger in its place would say that this is meant.")]
#[case::ducked_twice(|s: &Session| Edit::Batch { edits: vec![
    duck(s, "Tops", "Kick", |k| k, slow()),
    duck(s, "Tops", "Kick", |k| k, Settings::Gate(Gate::default())),
] }, "Tops is ducked twice by Kick, by a compressor and a gate.")]
#[case::clicks(|s: &Session| Edit::Batch { edits: vec![low_kick(s), duck(s, "Kick", "Snare", |k| k, Settings::Compressor(Compressor { attack_ms: 0.25, ..Default::default() }))] }, "The compressor of Kick takes hold within 0.25 ms, which clicks on low sounds.")]
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

fn slow() -> Settings {
    Settings::Compressor(Compressor { attack_ms: 5.0, ..Default::default() })
}

fn low_kick(s: &Session) -> Edit {
    Edit::SetFamily(SetFamily { voice: s.voices[1].id, family: Family::Low })
}

/// A ducker at a row by a key.
fn duck(s: &Session, row: &str, by: &str, key: impl Fn(Key) -> Key, settings: Settings) -> Edit {
    let (strips, key) = (vec![named(s, row)], Some(key(Key::new(named(s, by)))));
    Edit::AddProcessor(AddProcessor { strips, settings, key, at: None })
}

#[rstest]
#[case::whole(|k| k, true)]
#[case::its_lows_alone(|k| Key { low_pass_hz: 120.0, ..k }, false)]
fn a_key_that_is_a_whole_bus_names_the_one_lane_that_may_be_meant(#[case] key: fn(Key) -> Key, #[case] told: bool) {
    let mut s = beat();
    let more = ["Clap", "Hat"].map(|name| NewVoice {
        trim_db: 0.0,
        name: name.into(),
        family: Family::Snare,
        source: s.voices[0].source.clone(),
        output: Some(named(&s, "Mix bus")),
        hits: vec![],
    });
    apply(&mut s, &Edit::AddVoices(AddVoices { voices: more.to_vec(), assets: vec![] })).unwrap();
    let lanes = s.voices.iter().map(|v| v.channel).collect();
    apply(&mut s, &Edit::NewBus(NewBus { name: "Kit".into(), feeders: lanes })).unwrap();
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Room".into(), feeders: vec![], silent: false })).unwrap();
    let edit = duck(&s, "Room", "Kit", key, slow());
    apply(&mut s, &edit).unwrap();
    let low = low_kick(&s);
    apply(&mut s, &low).unwrap();
    let sentence = "The compressor of Room listens to all of Kit, where Kick alone may be meant.";
    let found = checks(&s).into_iter().find(|c| c.sentence == sentence);
    assert_eq!(found.is_some(), told, "{:?}", checks(&s));
    if let Some(check) = found {
        apply(&mut s, &check.repair.unwrap().edit).unwrap();
        assert!(!checks(&s).iter().any(|c| c.sentence == sentence));
    }
}

#[test]
fn duckers_that_are_off_are_no_matter() {
    for settings in Settings::all().into_iter().filter(Settings::takes_key) {
        let mut s = beat();
        let edit = duck(&s, "Tops", "Kick", |k| Key { tap: SendTap::PostFader, ..k }, settings);
        apply(&mut s, &edit).unwrap();
        assert_eq!(checks(&s).len(), 1);
        let strip = named(&s, "Tops");
        let processor = s.strip(strip).unwrap().chain.last().unwrap().id;
        apply(&mut s, &Edit::SetProcessor(SetProcessor { strip, processor, change: ProcessorChange::On(false) }))
            .unwrap();
        assert_eq!(checks(&s), []);
    }
}

#[test]
fn a_key_that_is_switched_off_is_no_matter() {
    let mut s = beat();
    let key = Some(Key::new(named(&s, "Kick")));
    let processor = add(&mut s, "Tops", Settings::Gate(Gate::default()), key);
    let (strip, kick) = (named(&s, "Tops"), s.voices[1].id);
    apply(&mut s, &Edit::RemoveVoices(RemoveVoices { voices: vec![kick] })).unwrap();
    assert_eq!(checks(&s).len(), 1);
    apply(&mut s, &Edit::SetProcessor(SetProcessor { strip, processor, change: ProcessorChange::On(false) })).unwrap();
    assert_eq!(checks(&s), []);
}

#[test]
fn a_dismissed_check_stays_and_comes_last() {
    let mut s = beat();
    let (_, strip) = snare(&s);
    apply(&mut s, &set(strip, StripChange::Mute(true))).unwrap();
    let other = s.voices[1].channel;
    apply(&mut s, &set(other, StripChange::Mute(true))).unwrap();
    let key = checks(&s)[0].key.clone();
    let applied = apply(&mut s, &Edit::DismissCheck(DismissCheck { key: key.clone(), dismissed: true })).unwrap();
    assert_eq!(checks(&s).iter().map(|c| c.dismissed).collect::<Vec<_>>(), [false, true]);
    assert_eq!(checks(&s)[1].key, key);
    applied.back.apply(&mut s).unwrap();
    assert!(checks(&s).iter().all(|c| !c.dismissed));
}

#[rstest]
#[case::cancelled(vec![StripChange::Polarity(Polarity::Inverted)], 0.0, true, "is silent: Snare copy plays the same sound at the same time, one of them inverted: they cancel completely.")]
#[case::in_part(vec![StripChange::Polarity(Polarity::Inverted), StripChange::FaderDb(-3.0)], 0.0, false, "Snare copy plays the same sound at the same time, one of them inverted: they cancel by 10.7 dB.")]
#[case::late(vec![], 240.0, false, "Snare copy plays the same sound at the same time, Snare copy 240 samples (5.0 ms) later: together they comb.")]
fn a_trace_tells_what_another_lane_takes_away(
    #[case] changes: Vec<StripChange>,
    #[case] delay_frames: f64,
    #[case] silent: bool,
    #[case] told: &str,
) {
    let mut s = beat();
    let copy = copied(&s, changes);
    let strip = StripId(s.next_id);
    apply(&mut s, &copy).unwrap();
    if delay_frames > 0.0 {
        apply(&mut s, &delayed(strip)).unwrap();
    }
    let found = of_snare(&s);
    assert_eq!(found.silent, silent);
    assert!(found.sentence.contains(told), "{}", found.sentence);
    // The trace, the checks and what was measured offer one repair.
    let repair = found.repair.unwrap();
    let check = checks(&s).into_iter().find(|c| c.key.to_string().starts_with("cancel")).unwrap();
    assert_eq!(check.repair.as_ref(), Some(&repair));
    assert_eq!(same_sound_repair(&s, &[strip, snare(&s).1]), Some(repair.clone()));
    apply(&mut s, &repair.edit).unwrap();
    assert!(!of_snare(&s).silent && checks(&s).iter().all(|c| !c.key.to_string().starts_with("cancel")));
}

#[test]
fn two_ways_of_a_lane_that_are_apart_in_time_comb_and_echoes_do_not() {
    let mut s = beat();
    let (strip, crush) = (named(&s, "Crush"), s.strip(named(&s, "Crush")).unwrap().chain[0].id);
    apply(&mut s, &Edit::RemoveProcessors(RemoveProcessors { strip, processors: vec![crush] })).unwrap();
    apply(&mut s, &delayed(strip)).unwrap();
    let found = of_snare(&s);
    assert!(found.sentence.ends_with("240 samples (5.0 ms) later. Together they comb."), "{}", found.sentence);
    assert_eq!(found.repair.unwrap().name, "Take the delay of Crush off");
    assert!(checks(&s).iter().any(|c| c.key.to_string().starts_with("late")));
    add(&mut s, "Crush", Settings::Reverb(lane_dsp::Reverb::default()), None);
    assert!(checks(&s).iter().all(|c| !c.key.to_string().starts_with("late")));
    // The trace says when it comes, and not that it combs.
    let found = of_snare(&s);
    assert!(found.sentence.contains("240 samples (5.0 ms) later") && !found.sentence.contains("comb"));
    assert_eq!(found.repair, None);
}

#[test]
fn lanes_of_one_sound_on_two_sides_take_nothing_from_each_other() {
    let mut s = beat();
    let copy = copied(&s, vec![StripChange::Polarity(Polarity::Inverted), StripChange::PanPercent(80.0)]);
    apply(&mut s, &copy).unwrap();
    assert_eq!(checks(&s), []);
    assert!(!of_snare(&s).silent);
}

/// Of many copies of one sound, each is told once, and none that takes from another is missed.
#[rstest]
#[case::the_first(0)]
#[case::one_between(7)]
#[case::the_last(29)]
fn of_many_copies_each_is_told_once(#[case] turned: usize) {
    let mut s = beat();
    let voice = snare(&s).0;
    let edits = vec![Edit::DuplicateVoice(DuplicateVoice { voice, with_chain: false, follows: false }); 29];
    apply(&mut s, &Edit::Batch { edits }).unwrap();
    let copies: Vec<(VoiceId, StripId)> =
        s.voices.iter().filter(|v| v.name.starts_with("Snare")).map(|v| (v.id, v.channel)).collect();
    assert_eq!(copies.len(), 30);
    let told = |s: &Session| checks(s).into_iter().map(|c| c.key.to_string()).collect::<Vec<_>>();
    let begins = |told: &[String], with: &str| told.iter().filter(|key| key.starts_with(with)).count();
    assert_eq!(begins(&told(&s), "same "), 29);
    apply(&mut s, &set(copies[turned].1, StripChange::Polarity(Polarity::Inverted))).unwrap();
    let keys = told(&s);
    let cancel = if turned == 0 { 29 } else { 1 };
    assert_eq!((begins(&keys, "cancel "), begins(&keys, "same ")), (cancel, 29 - cancel));
    // The lane itself says of each other one what that takes from it; the others name it.
    let asked = |(voice, strip): (VoiceId, StripId)| TraceQuestion { voice: Some(voice), strip, ..question(&s) };
    assert!(trace(&s, &asked(copies[turned])).silent);
    for other in copies.iter().filter(|c| **c != copies[turned]) {
        assert!(trace(&s, &asked(*other)).silent, "nothing is left of it beside the turned one");
    }
}
