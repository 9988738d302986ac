//! Connections between strips, their order, and the ways along them.

use crate::session::{DocumentError, Session};
use lane_units::{IdMap, IdSet, ProcessorId, StripId};
use petgraph::algo::toposort;
use petgraph::graphmap::DiGraphMap;
use petgraph::visit::{Dfs, IntoNeighbors, Visitable};

/// How one strip feeds another.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Means {
    /// The output of a strip.
    Output,
    /// A send of it.
    Send,
    /// Into the key of a processor of the other's chain.
    Key(ProcessorId),
}

/// One connection.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct Link {
    /// Where it begins.
    pub from: StripId,
    /// Where it ends.
    pub to: StripId,
    /// What it is.
    pub means: Means,
}

/// Every connection of a session: outputs, sends and keys, muted or not.
pub fn links(session: &Session) -> Vec<Link> {
    let mut links = Vec::with_capacity(2 * session.strips.len());
    for strip in &session.strips {
        let from = strip.id;
        links.extend(strip.output.map(|to| Link { from, to, means: Means::Output }));
        links.extend(strip.sends.iter().map(|send| Link { from, to: send.to, means: Means::Send }));
    }
    for (strip, processor, key) in session.keys() {
        let means = Means::Key(processor.id);
        links.extend(key.sources().map(|from| Link { from, to: strip.id, means }));
    }
    links
}

/// Strips as nodes, connections as edges.
pub type Graph = DiGraphMap<StripId, (), rustc_hash::FxBuildHasher>;

/// Where sound goes: outputs and sends, no keys.
pub fn sound(session: &Session) -> Graph {
    let heard = links(session).into_iter().filter(|l| !matches!(l.means, Means::Key(_)));
    Graph::from_edges(heard.map(|l| (l.from, l.to)))
}

/// What can be reached from some strips, themselves too.
pub fn reached<G>(from: impl IntoIterator<Item = StripId>, graph: G) -> IdSet<StripId>
where
    G: IntoNeighbors<NodeId = StripId> + Visitable<NodeId = StripId>,
{
    let (mut walk, mut seen) = (Dfs::empty(graph), IdSet::default());
    for id in from {
        walk.move_to(id);
        while let Some(at) = walk.next(graph) {
            seen.insert(at);
        }
    }
    seen
}

/// Strips so that each comes before what it feeds, keys included. Strips without a connection keep the
/// document's order.
///
/// # Errors
/// [`DocumentError::Loop`] with the names along the loop, the first again at the end.
pub fn order(session: &Session) -> Result<Vec<StripId>, DocumentError> {
    let mut graph = Graph::default();
    // Reversed, since the sort takes later nodes first among equals.
    for strip in session.strips.iter().rev() {
        graph.add_node(strip.id);
    }
    let links = links(session);
    for link in &links {
        graph.add_edge(link.from, link.to, ());
    }
    toposort(&graph, None).map_err(|cycle| DocumentError::Loop { path: loop_path(session, &links, cycle.node_id()) })
}

/// The loop through a strip, in names; sends and keys are called so.
fn loop_path(session: &Session, links: &[Link], start: StripId) -> Vec<String> {
    let mut came_by: IdMap<StripId, Link> = IdMap::default();
    let mut open = vec![start];
    while let Some(at) = open.pop() {
        for link in links.iter().filter(|l| l.from == at) {
            if link.to == start {
                came_by.insert(start, *link);
                open.clear();
                break;
            }
            if let std::collections::hash_map::Entry::Vacant(free) = came_by.entry(link.to) {
                free.insert(*link);
                open.push(link.to);
            }
        }
    }
    let mut path = Vec::new();
    let mut at = start;
    for _ in 0..=links.len() {
        let Some(link) = came_by.get(&at) else { break };
        let how = match link.means {
            Means::Output => "",
            Means::Send => " (send)",
            Means::Key(_) => " (key)",
        };
        path.push(format!("{}{how}", session.strip_name(at)));
        at = link.from;
        if at == start {
            break;
        }
    }
    path.push(session.strip_name(start));
    path.reverse();
    path
}

/// One way that sound takes from a strip: the strips along it, and the means by which each of them but the
/// first was reached.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Way {
    /// Strip after strip.
    pub strips: Vec<StripId>,
    /// What leads from each to the next.
    pub means: Vec<Means>,
}

/// Ways looked at; beyond that many nobody reads them.
const WAYS: usize = 16;

/// Ways from a strip through outputs and sends to where they end, which is main if all is well; the one along
/// outputs alone comes first.
pub fn ways(session: &Session, start: StripId) -> Vec<Way> {
    let mut found = Vec::new();
    let mut way = Way { strips: vec![start], means: Vec::new() };
    let mut seen = IdSet::from_iter([start]);
    walk(session, &mut way, &mut seen, &mut found);
    found
}

fn walk(session: &Session, way: &mut Way, seen: &mut IdSet<StripId>, found: &mut Vec<Way>) {
    let at = way.strips[way.strips.len() - 1];
    let strip = session.strip(at);
    let output = strip.and_then(|s| s.output);
    let next = output.map(|to| (to, Means::Output));
    let sends = strip.into_iter().flat_map(|s| s.sends.iter().map(|send| (send.to, Means::Send)));
    let mut ends = output.is_none();
    for (to, means) in next.into_iter().chain(sends) {
        if found.len() == WAYS || !seen.insert(to) {
            continue;
        }
        // A strip without an output ends here, even where a send of it goes on.
        if std::mem::take(&mut ends) {
            found.push(way.clone());
        }
        way.strips.push(to);
        way.means.push(means);
        walk(session, way, seen, found);
        way.strips.pop();
        way.means.pop();
        seen.remove(&to);
    }
    if ends && found.len() < WAYS {
        found.push(way.clone());
    }
}
