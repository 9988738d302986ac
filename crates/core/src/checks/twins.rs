//! Lanes that play one sound at the same time: what they make of each other, and what mends it.

use super::gain::{later_by, way_gain};
use super::repair::{Repair, turn_back, turn_round, undelayed};
use crate::edit::Edit;
use crate::routing::ways;
use crate::session::{Session, StripKind, Voice, VoiceSource};
use crate::units::{StripId, VoiceId, gain_to_db};

/// Two lanes of one sound that nothing colours.
pub struct Twins<'a> {
    pub first: &'a Voice,
    pub second: &'a Voice,
    /// The second's gain over the first's, negative where one of them is turned round.
    share: f64,
    /// Frames by which the second comes later, on purpose.
    late: f64,
}

/// Less than this part of the louder one is nothing.
const NOTHING_LEFT: f64 = 0.03;

/// Every pair of lanes that play one sound at the same time, from the same place between the sides.
pub fn twins(session: &Session) -> Vec<Twins<'_>> {
    let figures = |voice: &Voice| {
        let way = ways(session, voice.channel).into_iter().next()?;
        Some(way_gain(session, &way)).filter(|f| f.plain && f.gain != 0.0)
    };
    let open = |v: &&Voice| {
        let strip = session.strip(v.channel);
        v.source != VoiceSource::Empty && strip.is_some_and(|s| s.kind == StripKind::Channel && !s.mute)
    };
    let place = |v: &Voice| session.strip(v.channel).map(|s| (s.pan_percent, s.width_percent));
    let lanes: Vec<&Voice> = session.voices.iter().filter(open).collect();
    let mut found = Vec::new();
    for (at, first) in lanes.iter().enumerate() {
        for second in &lanes[at + 1..] {
            if first.source == second.source
                && place(first) == place(second)
                && plays_alike(session, first, second)
                && let (Some(one), Some(other)) = (figures(first), figures(second))
            {
                found.push(Twins { first, second, share: other.gain / one.gain, late: other.delay - one.delay });
            }
        }
    }
    found
}

fn plays_alike(session: &Session, first: &Voice, second: &Voice) -> bool {
    if matches!(first.source, VoiceSource::Recording { .. }) {
        return true;
    }
    let leader = |v: &Voice| v.follows.unwrap_or(v.id);
    let parts = |v: &Voice| {
        let id = leader(v);
        session.parts.iter().filter(move |p| p.voice == id).map(|p| (p.pattern, &p.hits))
    };
    leader(first) == leader(second) || (parts(first).next().is_some() && parts(first).eq(parts(second)))
}

impl Twins<'_> {
    pub fn has(&self, voice: VoiceId) -> bool {
        self.first.id == voice || self.second.id == voice
    }

    pub fn other(&self, voice: VoiceId) -> &Voice {
        if self.first.id == voice { self.second } else { self.first }
    }

    /// Whether nothing is left of them.
    pub fn cancel_completely(&self) -> bool {
        self.late == 0.0 && (1.0 + self.share).abs() < NOTHING_LEFT * self.share.abs().max(1.0)
    }

    /// What they do to each other, as it goes on behind what they play.
    pub fn effect(&self, session: &Session) -> String {
        if self.late != 0.0 {
            let later = if self.late > 0.0 { self.second } else { self.first };
            return format!("{} {}: together they comb", later.name, later_by(session, self.late.abs()));
        }
        if self.cancel_completely() {
            return "one of them inverted: they cancel completely".into();
        }
        let db = gain_to_db((1.0 + self.share).abs() / self.share.abs().max(1.0));
        if self.share < 0.0 {
            format!("one of them inverted: they cancel by {:.1} dB", -db)
        } else {
            format!("{db:.1} dB louder than the louder alone")
        }
    }

    /// Whether one takes from the other.
    pub fn harm(&self) -> bool {
        self.late != 0.0 || self.share < 0.0
    }

    /// What makes one of two: a polarity turned back, a delay taken off, the second removed.
    pub fn repair(&self, session: &Session) -> (String, Edit) {
        let along = |v: &Voice| ways(session, v.channel).into_iter().next().map(|w| w.strips).unwrap_or_default();
        let (ours, theirs) = (along(self.second), along(self.first));
        let own = || {
            let mine = ours.iter().filter(|id| !theirs.contains(id));
            mine.chain(theirs.iter().filter(|id| !ours.contains(id))).filter_map(|id| session.strip(*id))
        };
        if self.late != 0.0
            && let Some(found) = own().find_map(|strip| undelayed(session, strip))
        {
            return found;
        }
        if self.share < 0.0 {
            return own()
                .find_map(|strip| turn_back(strip, session))
                .unwrap_or_else(|| turn_round(session, self.second.channel));
        }
        (format!("Remove {}", self.second.name), Edit::RemoveVoices { voices: vec![self.second.id] })
    }
}

/// What mends lanes of one sound that take from each other, where two of some strips are such.
pub fn same_sound_repair(session: &Session, strips: &[StripId]) -> Option<Repair> {
    let among = |pair: &Twins| strips.contains(&pair.first.channel) && strips.contains(&pair.second.channel);
    let pairs = twins(session);
    let (name, edit) = pairs.iter().find(|p| p.harm() && among(p))?.repair(session);
    Some(Repair { name, edit })
}
