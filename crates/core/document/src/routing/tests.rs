use super::*;
use crate::session::{Key, Processor, SendTap, Session, Strip, StripKind, StripSend};
use lane_dsp::{Compressor, Settings};
use lane_units::{ProcessorId, StripId};
use proptest::prelude::*;
use rstest::rstest;

const KICK: StripId = StripId(22);

/// Main 1, mix bus 2, drums 10 and tops 11 (tops into drums), hat 20 and ride 21 on tops, kick 22 on drums, bass
/// 23 on mix, return room 30 into mix; hat and kick send to the room.
fn tree() -> Session {
    let mut s = Session::new("Tree", 48_000);
    let mut add = |id, kind, name: &str, to| {
        s.strips.push(Strip::new(StripId(id), kind, name.parse().unwrap(), Some(StripId(to))).into())
    };
    add(20, StripKind::Channel, "Hat", 11);
    add(21, StripKind::Channel, "Ride", 11);
    add(22, StripKind::Channel, "Kick", 10);
    add(23, StripKind::Channel, "Bass", 2);
    add(10, StripKind::Bus, "Drums", 2);
    add(11, StripKind::Bus, "Tops", 10);
    add(30, StripKind::Return, "Room", 2);
    for id in [20, 22] {
        strip(&mut s, id).sends.push(StripSend::new(StripId(30)));
    }
    s
}

fn strip(s: &mut Session, id: u32) -> &mut Strip {
    s.strips.iter_mut().find(|x| x.id == StripId(id)).unwrap()
}

/// A compressor with so much lookahead, listening to another strip where one is given.
fn compress(s: &mut Session, on: u32, lookahead_ms: f64, key: Option<StripId>) -> ProcessorId {
    let id = ProcessorId(1000 + s.take_id());
    let settings = Settings::Compressor(Compressor { lookahead_ms, ..Compressor::default() });
    strip(s, on).chain.push(Processor { key: key.map(Key::new), ..Processor::new(id, settings) });
    id
}

#[test]
fn every_strip_comes_before_what_it_feeds_or_keys() {
    let mut s = tree();
    compress(&mut s, 23, 0.0, Some(KICK));
    let order = order(&s).unwrap();
    let place = |id| order.iter().position(|o| *o == id).unwrap();
    for link in links(&s) {
        assert!(place(link.from) < place(link.to), "{link:?}");
    }
    assert_eq!(order.len(), s.strips.len());
}

#[rstest]
#[case::outputs(|s: &mut Session| strip(s, 10).output = Some(StripId(11)), "Drums to Tops to Drums")]
#[case::send(|s: &mut Session| strip(s, 30).sends.push(StripSend::new(StripId(30))), "Room to Room (send)")]
#[case::key(|s: &mut Session| { compress(s, 22, 0.0, Some(StripId(10))); }, "Kick to Drums to Kick (key)")]
#[case::own_key(|s: &mut Session| { compress(s, 22, 0.0, Some(KICK)); }, "Kick to Kick (key)")]
fn a_loop_is_spelled_out(#[case] spoil: fn(&mut Session), #[case] path: &str) {
    let mut s = tree();
    spoil(&mut s);
    let message = order(&s).unwrap_err().to_string();
    // The loop may be told from any of its strips.
    let names: Vec<&str> = path.split(" to ").collect();
    let turned = format!("{} to {}", names[1..].join(" to "), names[1]);
    assert!(message.contains(path) || message.contains(&turned), "{message}");
}

#[rstest]
#[case::nothing(&[], &[], &[], &[1, 2, 10, 11, 20, 21, 22, 23, 30])]
#[case::channel_and_its_return(&[20], &[], &[], &[1, 2, 10, 11, 20, 30])]
#[case::channel_without_return(&[21], &[], &[], &[1, 2, 10, 11, 21])]
#[case::bus_with_feeders(&[11], &[], &[], &[1, 2, 10, 11, 20, 21])]
#[case::two(&[21, 23], &[], &[], &[1, 2, 10, 11, 21, 23])]
#[case::mute_wins(&[20], &[20], &[], &[1, 2, 10, 11, 30])]
#[case::main_soloed(&[1], &[], &[], &[1, 2, 10, 11, 20, 21, 22, 23, 30])]
#[case::the_return_alone(&[30], &[], &[], &[1, 2, 20, 22, 30])]
#[case::safe_return(&[23], &[], &[30], &[1, 2, 23, 30])]
fn solo_keeps_the_way_to_main_open(
    #[case] solo: &[u32],
    #[case] mute: &[u32],
    #[case] safe: &[u32],
    #[case] expected: &[u32],
) {
    let mut s = tree();
    for strip in &mut s.strips {
        strip.solo = solo.contains(&strip.id.0);
        strip.mute = mute.contains(&strip.id.0);
        strip.solo_safe = safe.contains(&strip.id.0);
    }
    let hearing = Hearing::new(&s);
    let mut ids: Vec<u32> = s.strips.iter().map(|x| x.id).filter(|id| hearing.passes(*id)).map(|id| id.0).collect();
    ids.sort_unstable();
    assert_eq!(ids, expected);
}

#[test]
fn connections_are_open_where_the_soloed_sound_runs() {
    let mut s = tree();
    let id = StripId;
    strip(&mut s, 30).solo = true;
    let only_return = Hearing::new(&s);
    assert!(only_return.open(KICK, id(30)) && !only_return.open(KICK, id(10)) && only_return.open(id(30), id(2)));
    strip(&mut s, 30).solo = false;
    strip(&mut s, 10).solo = true;
    let bus = Hearing::new(&s);
    assert!(bus.open(KICK, id(10)) && !bus.open(KICK, id(30)) && !bus.open(id(23), id(2)));
    strip(&mut s, 30).solo_safe = true;
    let with_safe = Hearing::new(&s);
    assert!(with_safe.open(KICK, id(30)) && with_safe.open(id(30), id(2)) && !with_safe.open(id(23), id(2)));
}

#[test]
fn ways_follow_outputs_and_sends() {
    let s = tree();
    let found = ways(&s, StripId(20));
    let ids = |w: &Way| w.strips.iter().map(|id| id.0).collect::<Vec<_>>();
    assert_eq!(found.iter().map(ids).collect::<Vec<_>>(), [vec![20, 11, 10, 2, 1], vec![20, 30, 2, 1]]);
    assert_eq!(found[1].means, [Means::Send, Means::Output, Means::Output]);
    let mut cut = s;
    strip(&mut cut, 20).output = None;
    let found = ways(&cut, StripId(20));
    assert_eq!(found.iter().map(ids).collect::<Vec<_>>(), [vec![20], vec![20, 30, 2, 1]]);
}

#[test]
fn everything_waits_for_the_latest() {
    let mut s = tree();
    compress(&mut s, 22, 2.0, None);
    compress(&mut s, 30, 5.0, None);
    let latencies = Latencies::new(&s);
    let of = |id| {
        let found = latencies.of(StripId(id));
        (found.arrives, found.leaves)
    };
    assert_eq!(of(22), (0, 96));
    assert_eq!(of(10), (96, 96));
    assert_eq!(of(30), (96, 336));
    assert_eq!(of(2), (336, 336));
    let wait = |from, to, means| latencies.wait(&Link { from: StripId(from), to: StripId(to), means });
    assert_eq!(wait(20, 11, Means::Output), 0);
    assert_eq!(wait(11, 10, Means::Output), 96);
    assert_eq!(wait(20, 30, Means::Send), 96);
    assert_eq!(wait(23, 2, Means::Output), 336);
    assert_eq!(latencies.whole(), 336);
}

#[test]
fn a_late_key_makes_the_sound_wait_and_an_early_one_waits_itself() {
    let mut s = tree();
    compress(&mut s, 22, 5.0, None);
    let keyed = compress(&mut s, 23, 0.0, Some(KICK));
    let link = Link { from: KICK, to: StripId(23), means: Means::Key(keyed) };
    let latencies = Latencies::new(&s);
    assert_eq!(latencies.of(StripId(23)).arrives, 240);
    assert_eq!(latencies.wait(&link), 0);
    // A processor before it takes 10 ms, so the key has to wait for the rest.
    let first = Processor::new(
        ProcessorId(9999),
        Settings::Compressor(Compressor { lookahead_ms: 10.0, ..Compressor::default() }),
    );
    strip(&mut s, 23).chain.insert(0, first);
    let latencies = Latencies::new(&s);
    assert_eq!(latencies.of(StripId(23)).arrives, 0);
    assert_eq!(latencies.wait(&link), 240);
}

/// Random graphs: channels, buses and returns with any connection between them.
fn any_graph() -> impl Strategy<Value = Session> {
    let link = (0u32..12, 0u32..12, 0u32..3, 0u32..500);
    prop::collection::vec(link, 0..30).prop_map(|links| {
        let mut s = Session::new("Any", 48_000);
        for id in 0..12 {
            let kind = [StripKind::Channel, StripKind::Bus, StripKind::Return][id as usize % 3];
            let name = format!("S{id}").parse().unwrap();
            s.strips.push(Strip::new(StripId(100 + id), kind, name, Some(StripId(2))).into());
        }
        for (from, to, means, frames) in links {
            let (from, to) = (100 + from, StripId(100 + to));
            match means {
                0 => strip(&mut s, from).output = Some(to),
                1 => strip(&mut s, from).sends.push(StripSend { tap: SendTap::PreFader, ..StripSend::new(to) }),
                _ => {
                    compress(&mut s, to.0, f64::from(frames) / 48.0, Some(StripId(from)));
                }
            }
        }
        s
    })
}

proptest! {
    // Most graphs have a loop, so that many are passed over.
    #![proptest_config(ProptestConfig { max_global_rejects: 100_000, ..ProptestConfig::with_cases(300) })]

    #[test]
    fn random_graphs_run_in_order_or_spell_their_loop(s in any_graph()) {
        match order(&s) {
            Ok(order) => {
                let place = |id| order.iter().position(|o| *o == id).unwrap();
                prop_assert!(links(&s).iter().all(|l| place(l.from) < place(l.to)));
            }
            Err(error) => {
                let message = error.to_string();
                let path = message.split("loop: ").nth(1).unwrap();
                let plain = |n: &str| n.replace(" (send)", "").replace(" (key)", "");
                let names: Vec<String> = path.split(" to ").map(plain).collect();
                prop_assert_eq!(names.first(), names.last());
                // Each name feeds the next.
                for pair in names.windows(2) {
                    let fed = links(&s).iter().any(|l| s.strip_name(l.from) == pair[0] && s.strip_name(l.to) == pair[1]);
                    prop_assert!(fed, "{} does not feed {}", pair[0], pair[1]);
                }
            }
        }
    }

    #[test]
    fn solo_opens_what_lies_on_a_soloed_sounds_way(s in any_graph(), soloed in 0u32..12, safe in 0u32..24) {
        prop_assume!(order(&s).is_ok());
        let mut s = s;
        strip(&mut s, 100 + soloed).solo = true;
        if safe < 12 {
            strip(&mut s, 100 + safe).solo_safe = true;
        }
        let hearing = Hearing::new(&s);
        let audio: Vec<Link> = links(&s).into_iter().filter(|l| !matches!(l.means, Means::Key(_))).collect();
        // The slow way: every walk through the graph, written out.
        fn walks(audio: &[Link], walk: &mut Vec<StripId>, found: &mut Vec<Vec<StripId>>) {
            found.push(walk.clone());
            let at = walk.last().copied();
            for link in audio.iter().filter(|l| Some(l.from) == at) {
                walk.push(link.to);
                walks(audio, walk, found);
                walk.pop();
            }
        }
        let mut found = Vec::new();
        for x in &s.strips {
            walks(&audio, &mut vec![x.id], &mut found);
        }
        let solo = |id: &StripId| s.strip(*id).unwrap().solo;
        let kept = |id: &StripId| solo(id) || s.strip(*id).unwrap().solo_safe;
        let after = |id: StripId| found.iter().any(|w| w.last() == Some(&id) && kept(&w[0]));
        let before = |id: StripId| found.iter().any(|w| w[0] == id && w.last().is_some_and(solo));
        for x in &s.strips {
            prop_assert_eq!(hearing.wanted(x.id), after(x.id) || before(x.id));
        }
        for link in &audio {
            let to_safe = s.strip(link.to).unwrap().solo_safe && (after(link.from) || before(link.from));
            prop_assert_eq!(hearing.open(link.from, link.to), after(link.from) || before(link.to) || to_safe);
        }
    }

    #[test]
    fn paths_line_up_for_random_latencies(s in any_graph()) {
        prop_assume!(order(&s).is_ok());
        let latencies = Latencies::new(&s);
        for link in links(&s) {
            let due = latencies.of(link.from).leaves + latencies.wait(&link);
            match link.means {
                Means::Key(id) => {
                    let to = s.strip(link.to).unwrap();
                    let before = to.chain.iter().take_while(|p| p.id != id);
                    let frames: usize = before.map(|p| p.settings.latency(48_000)).sum();
                    prop_assert_eq!(due, latencies.of(link.to).arrives + frames as u32);
                }
                _ => prop_assert_eq!(due, latencies.of(link.to).arrives),
            }
        }
    }
}
