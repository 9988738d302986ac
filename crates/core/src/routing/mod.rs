//! The graph of a session: the order in which strips are computed, loops, and what is heard.

use crate::session::{DocumentError, Session};
use crate::units::StripId;
use petgraph::algo::toposort;
use petgraph::graphmap::DiGraphMap;
use std::collections::HashSet;

/// Strips so that each comes before what it feeds. Strips without a connection keep the document's order.
///
/// # Errors
/// [`DocumentError::Loop`] with the names along the loop, the first again at the end.
pub fn order(session: &Session) -> Result<Vec<StripId>, DocumentError> {
    let mut graph = DiGraphMap::<StripId, ()>::new();
    // Reversed, since the sort takes later nodes first among equals.
    for strip in session.strips.iter().rev() {
        graph.add_node(strip.id);
    }
    for strip in &session.strips {
        if let Some(to) = strip.output {
            graph.add_edge(strip.id, to, ());
        }
    }
    toposort(&graph, None).map_err(|cycle| DocumentError::Loop { path: loop_path(session, cycle.node_id()) })
}

fn loop_path(session: &Session, start: StripId) -> Vec<String> {
    let mut path = vec![session.strip_name(start)];
    let mut at = start;
    // A strip has one output, so the walk from a node of the loop comes back to it.
    while let Some(next) = session.strip(at).and_then(|s| s.output) {
        path.push(session.strip_name(next));
        if next == start || path.len() > session.strips.len() + 1 {
            break;
        }
        at = next;
    }
    path
}

/// The strips from one strip to where its sound ends, itself first.
pub fn path_from(session: &Session, start: StripId) -> Vec<StripId> {
    let mut path = vec![start];
    let mut at = start;
    while let Some(next) = session.strip(at).and_then(|s| s.output) {
        if path.contains(&next) {
            break;
        }
        path.push(next);
        at = next;
    }
    path
}

/// Strips that pass sound under mute and solo. With a solo anywhere, a strip is heard when it is
/// soloed, lies on a soloed strip's way to main, or feeds a soloed bus.
pub fn heard(session: &Session) -> HashSet<StripId> {
    let soloed: Vec<StripId> = session.strips.iter().filter(|s| s.solo).map(|s| s.id).collect();
    let mut heard: HashSet<StripId> = if soloed.is_empty() {
        session.strips.iter().map(|s| s.id).collect()
    } else {
        let feeds =
            session.strips.iter().map(|s| s.id).filter(|id| path_from(session, *id).iter().any(|p| soloed.contains(p)));
        let onward = soloed.iter().flat_map(|id| path_from(session, *id));
        feeds.chain(onward).collect()
    };
    for strip in session.strips.iter().filter(|s| s.mute) {
        heard.remove(&strip.id);
    }
    heard
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::session::{Strip, StripKind};
    use rstest::rstest;

    /// Main 1, mix bus 2, drums 10 and tops 11 (tops into drums), channels 20 and 21 on tops, 22 on mix.
    fn tree() -> Session {
        let mut s = Session::new("Tree", 48_000);
        let mut add = |id, kind, name: &str, to| s.strips.push(Strip::new(StripId(id), kind, name, Some(StripId(to))));
        add(20, StripKind::Channel, "Hat", 11);
        add(21, StripKind::Channel, "Ride", 11);
        add(22, StripKind::Channel, "Bass", 2);
        add(10, StripKind::Bus, "Drums", 2);
        add(11, StripKind::Bus, "Tops", 10);
        s
    }

    #[test]
    fn every_strip_comes_before_what_it_feeds() {
        let s = tree();
        let order = order(&s).unwrap();
        let place = |id| order.iter().position(|o| *o == id).unwrap();
        for strip in &s.strips {
            if let Some(to) = strip.output {
                assert!(place(strip.id) < place(to));
            }
        }
        assert_eq!(order.len(), s.strips.len());
    }

    #[test]
    fn a_loop_is_spelled_out() {
        let mut s = tree();
        s.strips.iter_mut().find(|x| x.id == StripId(10)).unwrap().output = Some(StripId(11));
        let message = order(&s).unwrap_err().to_string();
        assert!(message.contains("Drums to Tops to Drums") || message.contains("Tops to Drums to Tops"), "{message}");
    }

    #[rstest]
    #[case::nothing(&[], &[], &[1, 2, 10, 11, 20, 21, 22])]
    #[case::channel(&[20], &[], &[1, 2, 10, 11, 20])]
    #[case::bus_with_feeders(&[11], &[], &[1, 2, 10, 11, 20, 21])]
    #[case::two(&[20, 22], &[], &[1, 2, 10, 11, 20, 22])]
    #[case::mute_wins(&[20], &[20], &[1, 2, 10, 11])]
    #[case::main_soloed(&[1], &[], &[1, 2, 10, 11, 20, 21, 22])]
    fn solo_keeps_the_way_to_main_open(#[case] solo: &[u32], #[case] mute: &[u32], #[case] expected: &[u32]) {
        let mut s = tree();
        for strip in &mut s.strips {
            strip.solo = solo.contains(&strip.id.0);
            strip.mute = mute.contains(&strip.id.0);
        }
        let mut ids: Vec<u32> = heard(&s).iter().map(|id| id.0).collect();
        ids.sort_unstable();
        assert_eq!(ids, expected);
    }
}
