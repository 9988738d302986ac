//! Lanes that play one sound at the same time: what they make of each other, and what mends it.

use super::gain::{WayGain, later_by, way_gain};
use super::repair::{Repair, turn_back, turn_round, undelayed};
use crate::edit::{Edit, RemoveVoices};
use crate::routing::ways;
use crate::session::{Part, Session, Shared, Strip, StripKind, Voice, VoiceSource};
use lane_units::{IdMap, StripId, VoiceId, gain_to_db};
use rustc_hash::FxHasher;
use std::hash::{Hash, Hasher};

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

/// A lane that nothing colours, and its way in figures.
type Lane<'a> = (&'a Voice, WayGain);

/// Lanes that play one sound at the same time, from the same place between the sides: all such of each sound together, in
/// the order of the board.
///
/// * `among` – lanes that are looked at.
///
/// Cost: one pass over lanes and hits, and a look along the way of each lane that is not alone.
fn alike<'a>(session: &'a Session, among: impl Fn(&Voice) -> bool) -> Vec<Vec<Lane<'a>>> {
    let strips: IdMap<StripId, &Strip> = Shared::values(&session.strips).map(|s| (s.id, s)).collect();
    let mut parts: IdMap<VoiceId, Vec<&Part>> = IdMap::default();
    for part in Shared::values(&session.parts) {
        parts.entry(part.voice).or_default().push(part);
    }
    let leader = |v: &Voice| v.follows.unwrap_or(v.id);
    let played = |v: &Voice| parts.get(&leader(v)).map_or(&[][..], Vec::as_slice);
    let same_hits = |a: &[&Part], b: &[&Part]| {
        !a.is_empty()
            && a.len() == b.len()
            && a.iter().zip(b).all(|(a, b)| (a.pattern, &a.hits) == (b.pattern, &b.hits))
    };
    let same = |a: &Voice, b: &Voice| {
        a.source == b.source
            && (matches!(a.source, VoiceSource::Recording { .. })
                || leader(a) == leader(b)
                || same_hits(played(a), played(b)))
    };
    // Those that could be alike come together; each of them is then looked at.
    let mut groups: Vec<Vec<&Voice>> = Vec::new();
    let mut by_look: IdMap<u64, Vec<usize>> = IdMap::default();
    for voice in Shared::values(&session.voices).filter(|v| v.source != VoiceSource::Empty && among(v)) {
        let Some(strip) = strips.get(&voice.channel) else { continue };
        if strip.kind != StripKind::Channel || strip.mute {
            continue;
        }
        let place = |v: &Voice| strips.get(&v.channel).map(|s| (s.pan_percent, s.width_percent));
        let mut look = FxHasher::default();
        voice.source.assets().hash(&mut look);
        (strip.pan_percent.to_bits(), strip.width_percent.to_bits()).hash(&mut look);
        if let VoiceSource::OneShot { .. } = voice.source {
            match played(voice) {
                [] => leader(voice).hash(&mut look),
                all => all.iter().flat_map(|p| &p.hits).for_each(|h| (h.at_ticks, h.velocity).hash(&mut look)),
            }
        }
        let known = by_look.entry(look.finish()).or_default();
        let own = known.iter().find(|at| {
            let first = groups[**at][0];
            place(first) == place(voice) && same(first, voice)
        });
        match own {
            Some(at) => groups[*at].push(voice),
            None => {
                known.push(groups.len());
                groups.push(vec![voice]);
            }
        }
    }
    let figures = |voice: &'a Voice| {
        let way = ways(session, voice.channel).into_iter().next()?;
        Some((voice, way_gain(session, &way))).filter(|(_, f)| f.plain && f.gain != 0.0)
    };
    let of_some = groups.into_iter().filter(|g| g.len() > 1);
    of_some.map(|group| group.into_iter().filter_map(figures).collect::<Vec<_>>()).filter(|g| g.len() > 1).collect()
}

fn pair<'a>((first, one): Lane<'a>, (second, other): Lane<'a>) -> Twins<'a> {
    Twins { first, second, share: other.gain / one.gain, late: other.delay - one.delay }
}

/// Of every sound that several lanes play at the same time, from the same place between the sides: the first of them with
/// each of the others. Where two take from each other, one of them takes from the first.
pub fn twins(session: &Session) -> Vec<Twins<'_>> {
    let mut found = Vec::new();
    for group in alike(session, |_| true) {
        found.extend(group[1..].iter().map(|other| pair(group[0], *other)));
    }
    found
}

/// A lane with each other one that plays its sound at the same time.
pub fn twins_of(session: &Session, voice: VoiceId) -> Vec<Twins<'_>> {
    let own = |lane: &Lane| lane.0.id == voice;
    let Some(group) = alike(session, |_| true).into_iter().find(|g| g.iter().any(own)) else { return Vec::new() };
    let at = group.iter().position(own).unwrap_or(0);
    let others = group.iter().enumerate().filter(|(n, _)| *n != at);
    // The one that stands first on the board is the first.
    others.map(|(n, other)| if n < at { pair(*other, group[at]) } else { pair(group[at], *other) }).collect()
}

impl Twins<'_> {
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
        (format!("Remove {}", self.second.name), Edit::RemoveVoices(RemoveVoices { voices: vec![self.second.id] }))
    }
}

/// What mends lanes of one sound that take from each other, where two of some strips are such.
pub fn same_sound_repair(session: &Session, strips: &[StripId]) -> Option<Repair> {
    let groups = alike(session, |v| strips.contains(&v.channel));
    let mut pairs = groups.iter().flat_map(|group| group[1..].iter().map(|other| pair(group[0], *other)));
    let (name, edit) = pairs.find(Twins::harm)?.repair(session);
    Some(Repair { name, edit })
}
