//! How late sound is at every strip, and what has to wait so that everything arrives together.

use super::graph::{Link, Means, links, order};
use crate::session::{Session, Shared, Strip};
use lane_units::{IdMap, ProcessorId, StripId};
use serde::Serialize;

/// Frames after a hit at which its sound is at a strip.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct StripLatency {
    /// The strip.
    pub strip: StripId,
    /// At its input, once everything that feeds it has waited for the latest.
    pub arrives: u32,
    /// After its chain, as late as it counts: a strip that is offset to be earlier counts as later, so that all else waits
    /// for it, and the other way round.
    pub leaves: u32,
}

/// The latencies of a session.
#[derive(Debug, Clone)]
pub struct Latencies {
    strips: IdMap<StripId, StripLatency>,
    /// At the input of each processor that has a key.
    keyed: IdMap<ProcessorId, u32>,
    /// In the order of computation.
    order: Vec<StripId>,
    /// Frames after a hit at which voices play it at the earliest.
    begins: u32,
}

impl Latencies {
    /// Strips on a loop, which no edit lets through, are left out.
    pub fn new(session: &Session) -> Self {
        let order = order(session).unwrap_or_default();
        let mut feeds: IdMap<StripId, Vec<Link>> = IdMap::default();
        for link in links(session) {
            feeds.entry(link.to).or_default().push(link);
        }
        let by_id: IdMap<StripId, &Strip> = Shared::values(&session.strips).map(|s| (s.id, s)).collect();
        // Where something shall come later, all begins as much later, so that nothing counts as earlier than its hit.
        let begins = Shared::values(&session.strips).map(|s| s.offset_frames.max(0).unsigned_abs()).max().unwrap_or(0);
        let mut found = Latencies { strips: IdMap::default(), keyed: IdMap::default(), order, begins };
        for at in 0..found.order.len() {
            let id = found.order[at];
            let Some(strip) = by_id.get(&id) else { continue };
            found.take(session, strip, feeds.get(&id).map_or(&[], Vec::as_slice));
        }
        found
    }

    fn take(&mut self, session: &Session, strip: &Strip, feeds: &[Link]) {
        let rate = session.header.sample_rate;
        let mut before = Vec::with_capacity(strip.chain.len());
        let mut chain: u32 = 0;
        for processor in &strip.chain {
            before.push((processor.id, chain));
            chain += processor.settings.latency(rate) as u32;
        }
        let until = |id: ProcessorId| before.iter().find(|(p, _)| *p == id).map_or(0, |(_, frames)| *frames);
        // A key that comes later than the sound it acts on makes that sound wait.
        let needs = |link: &Link| {
            let leaves = self.strips.get(&link.from).map_or(0, |s| s.leaves);
            match link.means {
                Means::Key(id) => leaves.saturating_sub(until(id)),
                _ => leaves,
            }
        };
        let arrives = feeds.iter().map(needs).max().unwrap_or(0).max(self.begins);
        for link in feeds {
            if let Means::Key(id) = link.means {
                self.keyed.insert(id, arrives + until(id));
            }
        }
        self.strips.insert(
            strip.id,
            StripLatency {
                strip: strip.id,
                arrives,
                leaves: (arrives + chain).saturating_add_signed(-strip.offset_frames),
            },
        );
    }

    /// How late sound is at a strip.
    pub fn of(&self, strip: StripId) -> StripLatency {
        self.strips.get(&strip).copied().unwrap_or(StripLatency { strip, arrives: 0, leaves: 0 })
    }

    /// How late sound is at a key of a processor, once it has waited.
    pub fn key(&self, processor: ProcessorId) -> u32 {
        self.keyed.get(&processor).copied().unwrap_or(0)
    }

    /// Frames that a connection has to wait.
    pub fn wait(&self, link: &Link) -> u32 {
        let due = match link.means {
            Means::Key(id) => self.keyed.get(&id).copied().unwrap_or(0),
            _ => self.of(link.to).arrives,
        };
        due.saturating_sub(self.of(link.from).leaves)
    }

    /// Frames after a hit at which everything has arrived everywhere.
    pub fn whole(&self) -> u32 {
        self.strips.values().map(|s| s.leaves).max().unwrap_or(0)
    }

    /// Strips in the order of computation.
    pub fn order(&self) -> &[StripId] {
        &self.order
    }

    /// Every strip's, in the order of computation.
    pub fn list(&self) -> Vec<StripLatency> {
        self.order.iter().map(|id| self.of(*id)).collect()
    }
}
