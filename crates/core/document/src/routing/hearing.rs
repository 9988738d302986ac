//! What mute and solo let through.

use super::graph::{reached, sound};
use crate::session::{Session, StripKind};
use lane_units::{IdSet, StripId};
use petgraph::visit::Reversed;

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
            let sound = sound(session);
            after = reached(soloed.union(&safe).copied(), &sound);
            before = reached(soloed.iter().copied(), Reversed(&sound));
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
