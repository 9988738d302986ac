//! What mute and solo let through.

use super::graph::{Means, links};
use crate::session::{Session, StripKind};
use lane_units::{IdMap, IdSet, StripId};

/// Who is heard. With a solo anywhere, a connection is open where a soloed strip's sound runs through it, or
/// where it leads to a soloed strip. A strip that is safe from solo keeps what it is sent by those who are heard.
#[derive(Debug, Clone)]
pub struct Hearing {
    soloing: bool,
    /// What a soloed or safe strip's sound runs through, itself too.
    after: IdSet<StripId>,
    /// What leads to a soloed strip, itself too.
    before: IdSet<StripId>,
    safe: IdSet<StripId>,
    muted: IdSet<StripId>,
    triggers: IdSet<StripId>,
}

impl Hearing {
    /// What mute and solo of a session let through.
    pub fn new(session: &Session) -> Self {
        let ids = |test: fn(&crate::session::Strip) -> bool| -> IdSet<StripId> {
            session.strips.iter().filter(|s| test(s)).map(|s| s.id).collect()
        };
        let soloed = ids(|s| s.solo && s.kind != StripKind::Trigger);
        let safe = ids(|s| s.solo_safe);
        let soloing = !soloed.is_empty();
        let (mut after, mut before) = (IdSet::default(), IdSet::default());
        if soloing {
            let (mut onward, mut back) = (IdMap::<_, Vec<_>>::default(), IdMap::<_, Vec<_>>::default());
            for link in links(session).iter().filter(|l| !matches!(l.means, Means::Key(_))) {
                onward.entry(link.from).or_default().push(link.to);
                back.entry(link.to).or_default().push(link.from);
            }
            after = reached(soloed.union(&safe).copied(), &onward);
            before = reached(soloed.iter().copied(), &back);
        }
        let muted = ids(|s| s.mute && s.kind != StripKind::Trigger);
        Hearing { soloing, after, before, safe, muted, triggers: ids(|s| s.kind == StripKind::Trigger) }
    }

    /// Whether a strip is on the way of something that solo lets through.
    pub fn wanted(&self, strip: StripId) -> bool {
        !self.soloing || self.after.contains(&strip) || self.before.contains(&strip) || self.triggers.contains(&strip)
    }

    /// Whether anything comes out of a strip: neither muted nor left out by a solo.
    pub fn passes(&self, strip: StripId) -> bool {
        self.wanted(strip) && !self.muted.contains(&strip)
    }

    /// Whether solo lets sound through from one strip to another.
    pub fn open(&self, from: StripId, to: StripId) -> bool {
        !self.soloing
            || self.after.contains(&from)
            || self.before.contains(&to)
            || (self.safe.contains(&to) && self.wanted(from))
    }
}

fn reached(from: impl Iterator<Item = StripId>, along: &IdMap<StripId, Vec<StripId>>) -> IdSet<StripId> {
    let mut open: Vec<StripId> = from.collect();
    let mut seen: IdSet<StripId> = open.iter().copied().collect();
    while let Some(at) = open.pop() {
        for next in along.get(&at).into_iter().flatten() {
            if seen.insert(*next) {
                open.push(*next);
            }
        }
    }
    seen
}
