//! Edits of sends, returns, triggers and chains, and lanes inserted from elsewhere.

use super::*;
use crate::session::Session;
use crate::session::StripSend;
use lane_dsp::{Compressor, Gate, Settings, StereoImage};
use lane_units::ProcessorId;

fn strip<'a>(s: &'a Session, name: &str) -> &'a crate::session::Strip {
    s.strips.iter().find(|x| s.strip_name(x.id) == name).unwrap()
}

fn add(s: &mut Session, name: &str, settings: Settings, key: Option<Key>) -> ProcessorId {
    let strips = vec![strip(s, name).id];
    apply(s, &Edit::AddProcessor(AddProcessor { strips, settings, key, at: None })).unwrap();
    strip(s, name).chain.last().unwrap().id
}

fn with_return() -> Session {
    let mut s = kit();
    let feeders = vec![strip(&s, "Kick").id, strip(&s, "Snare").id];
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Press".into(), feeders, silent: true })).unwrap();
    s
}

#[test]
fn a_new_return_is_fed_and_waits_at_off() {
    let s = with_return();
    let press = strip(&s, "Press");
    assert_eq!((press.kind, press.output, press.fader_db), (StripKind::Return, Some(StripId(2)), -100.0));
    assert_eq!(strip(&s, "Kick").sends, [StripSend::new(press.id)]);
    assert!(strip(&s, "Hat").sends.is_empty());
    let order: Vec<_> = s.strips_in_board_order().into_iter().map(|id| s.strip_name(id)).collect();
    assert_eq!(order, ["Kick", "Snare", "Hat", "Press", "Mix bus", "Main"]);
}

#[test]
fn new_buses_and_returns_get_names_that_nothing_has() {
    let mut s = kit();
    for edit in [
        Edit::NewReturn(NewReturn { name: "Return".into(), feeders: vec![], silent: false }),
        Edit::NewReturn(NewReturn { name: "return".into(), feeders: vec![], silent: false }),
        Edit::NewBus(NewBus { name: "Kick".into(), feeders: vec![] }),
    ] {
        apply(&mut s, &edit).unwrap();
    }
    let names: Vec<_> = s.strips.iter().map(|x| x.name.as_str()).filter(|n| !n.is_empty()).collect();
    assert!(["Return", "return 2", "Kick 2"].iter().all(|n| names.contains(n)), "{names:?}");
}

#[test]
fn a_removed_bus_hands_its_feeders_on_and_undo_brings_all_of_it_back() {
    let mut s = kit();
    let kick = strip(&s, "Kick").id;
    apply(&mut s, &Edit::NewBus(NewBus { name: "Drums".into(), feeders: vec![kick] })).unwrap();
    let drums = strip(&s, "Drums").id;
    add(&mut s, "Drums", Settings::Gate(Gate::default()), None);
    add(&mut s, "Hat", Settings::Compressor(Compressor::default()), Some(Key::new(drums)));
    let before = s.clone();
    let applied =
        apply(&mut s, &Edit::RemoveStrip(RemoveStrip { strip: drums, feeders_to: Some(StripId(1)) })).unwrap();
    assert_eq!(strip(&s, "Kick").output, Some(StripId(1)));
    // The key is silent now; the processor does not start to listen to itself.
    assert_eq!(strip(&s, "Hat").chain[0].key.unwrap().source, None);
    applied.back.apply_exactly(&mut s).unwrap();
    assert_eq!(s, before);
}

#[test]
fn the_mix_bus_is_what_the_document_says_and_not_the_order_of_strips() {
    let mut s = kit();
    let kick = strip(&s, "Kick").id;
    apply(&mut s, &Edit::NewBus(NewBus { name: "Sum".into(), feeders: vec![] })).unwrap();
    let sum = strip(&s, "Sum").id;
    // A bus in front of the mix bus that feeds main does not become it.
    apply(&mut s, &Edit::SetOutput(SetOutput { strips: vec![sum], output: Some(StripId(1)) })).unwrap();
    assert_eq!(s.mix_bus, StripId(2));
    let applied = apply(&mut s, &Edit::SetMixBus(SetMixBus { strip: sum })).unwrap();
    assert_eq!(applied.label, "Sum as mix bus");
    // New rows go there, wherever it goes itself.
    apply(&mut s, &Edit::SetOutput(SetOutput { strips: vec![sum], output: Some(StripId(2)) })).unwrap();
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Press".into(), feeders: vec![kick], silent: true })).unwrap();
    assert_eq!(strip(&s, "Press").output, Some(sum));
    let refused = apply(&mut s, &Edit::SetMixBus(SetMixBus { strip: kick })).unwrap_err();
    assert_eq!(refused.to_string(), "Kick is not a bus");
}

#[rstest]
#[case::to_what_its_feeders_go_to(Some(StripId(2)), StripId(2))]
#[case::else_to_main(None, StripId(1))]
fn a_removed_mix_bus_hands_on_what_it_was(#[case] feeders_to: Option<StripId>, #[case] then: StripId) {
    let mut s = kit();
    apply(&mut s, &Edit::NewBus(NewBus { name: "Sum".into(), feeders: vec![] })).unwrap();
    let sum = strip(&s, "Sum").id;
    apply(&mut s, &Edit::SetMixBus(SetMixBus { strip: sum })).unwrap();
    let before = s.clone();
    let applied = apply(&mut s, &Edit::RemoveStrip(RemoveStrip { strip: sum, feeders_to })).unwrap();
    assert_eq!(s.mix_bus, then);
    applied.back.apply_exactly(&mut s).unwrap();
    assert_eq!(s, before);
}

#[test]
fn a_removed_return_takes_its_sends_along() {
    let mut s = with_return();
    let press = strip(&s, "Press").id;
    apply(&mut s, &Edit::RemoveStrip(RemoveStrip { strip: press, feeders_to: None })).unwrap();
    assert!(s.strips.iter().all(|x| x.sends.is_empty()));
    let main = Edit::RemoveStrip(RemoveStrip { strip: StripId(1), feeders_to: None });
    assert!(apply(&mut s, &main).unwrap_err().to_string().contains("not a bus or return"));
}

#[test]
fn a_send_is_set_on_many_and_taken_away() {
    let mut s = with_return();
    let to = strip(&s, "Press").id;
    let strips: Vec<_> = s.voices.iter().map(|v| v.channel).collect();
    let send = StripSend { level_db: -6.0, ..StripSend::new(to) };
    apply(&mut s, &Edit::SetSend(SetSend { strips: strips.clone(), send })).unwrap();
    assert!(strips.iter().all(|id| s.strip(*id).unwrap().sends == [send]));
    apply(&mut s, &Edit::RemoveSends(RemoveSends { strips: strips[1..].to_vec(), to })).unwrap();
    assert_eq!(s.strips.iter().filter(|x| !x.sends.is_empty()).count(), 1);
    let itself = Edit::SetSend(SetSend { strips: vec![to], send });
    assert!(apply(&mut s, &itself).unwrap_err().to_string().contains("this would be a loop: Press to Press (send)"));
}

#[test]
fn a_trigger_of_its_own_is_never_heard_and_keeps_its_hits() {
    let mut s = kit();
    let before = s.clone();
    let hits =
        vec![NewHits { pattern: s.patterns[0].id, hits: vec![Hit::new(0, 240, 127, 0), Hit::new(960, 240, 127, 0)] }];
    let voices = vec![NewVoice { hits, ..voice("Beat trigger") }, voice("Beat trigger")];
    let applied = apply(&mut s, &Edit::AddTriggers(AddTriggers { voices, assets: vec![] })).unwrap();
    for name in ["Beat trigger", "Beat trigger 2"] {
        let trigger = strip(&s, name);
        assert_eq!((trigger.kind, trigger.output), (StripKind::Trigger, None));
    }
    let made = named(&s, "Beat trigger");
    assert_eq!(s.parts.iter().filter(|p| p.voice == made).map(|p| p.hits.len()).sum::<usize>(), 2);
    applied.back.apply_exactly(&mut s).unwrap();
    assert_eq!(s, before);
}

#[test]
fn a_trigger_follows_the_lane_it_is_like_and_can_become_a_lane() {
    let mut s = with_return();
    let like = named(&s, "Kick");
    apply(&mut s, &Edit::NewTrigger(NewTrigger { like, follows: true })).unwrap();
    let voice = named(&s, "Kick trigger");
    let trigger = strip(&s, "Kick trigger");
    assert_eq!((trigger.kind, trigger.output), (StripKind::Trigger, None));
    assert!(trigger.sends.is_empty());
    assert_eq!(s.voice(voice).unwrap().follows, Some(like));
    apply(&mut s, &Edit::SetTriggers(SetTriggers { voices: vec![voice], trigger: false })).unwrap();
    let lane = strip(&s, "Kick trigger");
    assert_eq!((lane.kind, lane.output), (StripKind::Channel, Some(StripId(2))));
    // A voice that shares a channel leaves it, so that the other one is still heard.
    let (snare, hat) = (named(&s, "Snare"), named(&s, "Hat"));
    let channel = s.voice(snare).unwrap().channel;
    apply(&mut s, &Edit::ShareChannel(ShareChannel { voices: vec![hat], channel })).unwrap();
    apply(&mut s, &Edit::SetTriggers(SetTriggers { voices: vec![hat], trigger: true })).unwrap();
    assert_eq!(s.strip(channel).unwrap().kind, StripKind::Channel);
    assert_eq!(strip(&s, "Hat").kind, StripKind::Trigger);
}

#[test]
fn processors_are_moved_removed_and_copied_under_ids_of_their_own() {
    let mut s = kit();
    let gate = add(&mut s, "Kick", Settings::Gate(Gate::default()), None);
    let compressor = add(&mut s, "Kick", Settings::Compressor(Compressor::default()), None);
    let (from, to) = (strip(&s, "Kick").id, vec![strip(&s, "Snare").id, strip(&s, "Hat").id]);
    apply(&mut s, &Edit::MoveProcessor(MoveProcessor { strip: from, processor: compressor, to: 0 })).unwrap();
    let ids = |s: &Session, name: &str| strip(s, name).chain.iter().map(|p| p.id).collect::<Vec<_>>();
    assert_eq!(ids(&s, "Kick"), [compressor, gate]);
    add(&mut s, "Snare", Settings::StereoImage(StereoImage::default()), None);
    let copy = |replace| Edit::CopyChain(CopyChain { from, processors: vec![], to: to.clone(), replace });
    apply(&mut s, &copy(false)).unwrap();
    let kinds = |s: &Session, name: &str| strip(s, name).chain.iter().map(|p| p.settings.name()).collect::<Vec<_>>();
    assert_eq!(kinds(&s, "Snare"), ["Stereo image", "Compressor", "Gate"]);
    apply(&mut s, &copy(true)).unwrap();
    assert_eq!(kinds(&s, "Snare"), ["Compressor", "Gate"]);
    assert_eq!(kinds(&s, "Hat"), ["Compressor", "Gate"]);
    apply(&mut s, &Edit::RemoveProcessors(RemoveProcessors { strip: from, processors: vec![compressor] })).unwrap();
    assert_eq!(ids(&s, "Kick"), [gate]);
    let gone = Edit::RemoveProcessors(RemoveProcessors { strip: from, processors: vec![compressor] });
    assert!(apply(&mut s, &gone).unwrap_err().to_string().contains("not in the session any more"));
}

#[test]
fn values_out_of_range_are_refused_with_the_range() {
    let mut s = kit();
    let processor = add(&mut s, "Kick", Settings::Compressor(Compressor::default()), None);
    let before = s.clone();
    let settings = Settings::Compressor(Compressor { ratio: 0.5, ..Compressor::default() });
    let edit = Edit::SetProcessor(SetProcessor {
        strip: strip(&s, "Kick").id,
        processor,
        change: ProcessorChange::Settings(settings),
    });
    let error = apply(&mut s, &edit).unwrap_err().to_string();
    assert_eq!(error, "ratio of the compressor of Kick is 0.5 :1; 1 to 100 :1 is allowed");
    assert_eq!(s, before);
}

/// Another session: Kick and Keys on a bus Drums of theirs, Kick keys the keys, both send to Press.
fn elsewhere() -> Session {
    let mut s = Session::new("Elsewhere", 48_000);
    let voices = ["Kick", "Keys"].map(voice).to_vec();
    apply(&mut s, &Edit::AddVoices(AddVoices { voices, assets: vec![] })).unwrap();
    let feeders: Vec<_> = s.voices.iter().map(|v| v.channel).collect();
    apply(&mut s, &Edit::NewBus(NewBus { name: "Drums".into(), feeders: feeders.clone() })).unwrap();
    apply(&mut s, &Edit::NewReturn(NewReturn { name: "Press".into(), feeders, silent: false })).unwrap();
    let key = Key::new(strip(&s, "Kick").id);
    add(&mut s, "Keys", Settings::Compressor(Compressor::default()), Some(key));
    add(&mut s, "Drums", Settings::Gate(Gate::default()), None);
    let (pattern, kick) = (s.patterns[0].id, named(&s, "Kick"));
    let hits = vec![hit(0), hit(7000)];
    apply(&mut s, &Edit::SetHits(SetHits { pattern, voice: kick, hits })).unwrap();
    s
}

fn insertion(from: Session, names: &[&str], pattern: Option<PatternId>) -> Insertion {
    let voices = names.iter().map(|n| named(&from, n)).collect();
    Insertion { from, voices, map: vec![], pattern }
}

#[test]
fn lanes_come_in_with_their_buses_returns_sends_and_keys() {
    let mut s = kit();
    let shorter = Pattern { bars: 1, ..(*s.patterns[0]).clone() };
    apply(&mut s, &Edit::SetPattern(SetPattern { pattern: shorter })).unwrap();
    let what = insertion(elsewhere(), &["Kick", "Keys"], Some(s.patterns[0].id));
    let before = s.clone();
    let applied = apply(&mut s, &Edit::InsertLanes(InsertLanes { insertion: Box::new(what) })).unwrap();
    let (kick, keys) = (strip(&s, "Kick 2"), strip(&s, "Keys"));
    let (drums, press) = (strip(&s, "Drums"), strip(&s, "Press"));
    assert_eq!((kick.output, keys.output), (Some(drums.id), Some(drums.id)));
    assert_eq!(drums.output, Some(StripId(2)), "their mix bus is ours");
    assert_eq!(drums.chain[0].settings.name(), "Gate");
    assert_eq!(kick.sends, [StripSend::new(press.id)]);
    assert_eq!(keys.chain[0].key.unwrap().source, Some(kick.id));
    // What lies behind the end of the pattern stays out.
    assert_eq!(s.hits(s.patterns[0].id, named(&s, "Kick 2")), [hit(0)]);
    applied.back.apply_exactly(&mut s).unwrap();
    assert_eq!(s, before);
}

#[test]
fn a_bus_of_the_same_name_is_used_unless_another_is_chosen() {
    let mut s = kit();
    let kick = strip(&s, "Kick").id;
    apply(&mut s, &Edit::NewBus(NewBus { name: "drums".into(), feeders: vec![kick] })).unwrap();
    let ours = strip(&s, "drums").id;
    let from = elsewhere();
    let theirs = strip(&from, "Drums").id;
    let mut same = s.clone();
    let what = insertion(from, &["Keys"], None);
    apply(&mut same, &Edit::InsertLanes(InsertLanes { insertion: Box::new(what.clone()) })).unwrap();
    assert_eq!(strip(&same, "Keys").output, Some(ours));
    // The kick was not taken along, so the key has no source here.
    assert_eq!(strip(&same, "Keys").chain[0].key.unwrap().source, None);
    // It can be said what it is here; what is not here is refused.
    let mut told = s.clone();
    let heard = StripMap { from: strip(&what.from, "Kick").id, to: Some(kick) };
    let with_key = Insertion { map: vec![heard], ..what.clone() };
    apply(&mut told, &Edit::InsertLanes(InsertLanes { insertion: Box::new(with_key) })).unwrap();
    assert_eq!(strip(&told, "Keys").chain[0].key.unwrap().source, Some(kick));
    let lost = Insertion { map: vec![StripMap { to: Some(StripId(9999)), ..heard }], ..what.clone() };
    assert!(apply(&mut told, &Edit::InsertLanes(InsertLanes { insertion: Box::new(lost) })).is_err());
    let anew = Insertion { map: vec![StripMap { from: theirs, to: None }], ..what };
    apply(&mut s, &Edit::InsertLanes(InsertLanes { insertion: Box::new(anew) })).unwrap();
    assert_eq!(strip(&s, "Keys").output, Some(strip(&s, "Drums 2").id));
}

#[test]
fn a_kept_chain_comes_in_under_ids_of_its_own_and_can_be_put_in_another_order() {
    let mut s = kit();
    let gate = add(&mut s, "Kick", Settings::Gate(Gate::default()), None);
    let kept = Processor { mix_percent: 40.0, ..strip(&s, "Kick").chain[0].clone() };
    let other = Processor { id: gate, settings: Settings::StereoImage(StereoImage::default()), ..kept.clone() };
    let strips = vec![strip(&s, "Kick").id, strip(&s, "Snare").id];
    let insert =
        Edit::InsertProcessors(InsertProcessors { strips, processors: vec![kept, other], at: Some(0), replace: false });
    apply(&mut s, &insert).unwrap();
    let ids: Vec<ProcessorId> = strip(&s, "Kick").chain.iter().map(|p| p.id).collect();
    assert_eq!((ids.len(), ids[2], strip(&s, "Snare").chain.len()), (3, gate, 2));
    assert_eq!(strip(&s, "Kick").chain[0].mix_percent, 40.0);
    let kick = strip(&s, "Kick").id;
    let order = vec![ids[2], ids[0], ids[1]];
    let applied = apply(&mut s, &Edit::OrderChain(OrderChain { strip: kick, order: order.clone() })).unwrap();
    assert_eq!(strip(&s, "Kick").chain.iter().map(|p| p.id).collect::<Vec<_>>(), order);
    applied.back.apply_exactly(&mut s).unwrap();
    assert_eq!(strip(&s, "Kick").chain.iter().map(|p| p.id).collect::<Vec<_>>(), ids);
    let short = apply(&mut s, &Edit::OrderChain(OrderChain { strip: kick, order: vec![ids[0]] })).unwrap_err();
    assert!(short.to_string().contains("is not in the session any more"), "{short}");
}
