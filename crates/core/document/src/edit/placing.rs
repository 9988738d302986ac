//! Where sounds and notes that come in go: to a lane that waits for them, else to a new one, on its family's bus where
//! there is one. Proposals only; what is done is an edit.

use crate::session::{Family, Layer, Role, Session, Shared, StripKind, Voice, VoiceSource};
use lane_units::{AssetId, Name, StripId, VoiceId};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, HashSet};

/// A sound or a part of a take that comes in.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Incoming {
    /// What it is called.
    pub name: Name,
    /// Its family.
    pub family: Family,
}

/// Where it goes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Destination {
    /// The lane that waits for it; a new one where none does.
    pub voice: Option<VoiceId>,
    /// Where the channel of a new lane goes; the mix bus where not said.
    pub output: Option<StripId>,
}

/// How well a lane fits; nothing where it does not.
fn fits(voice: &Voice, role: &Role, incoming: &Incoming, names: &Role) -> Option<u32> {
    if voice.name.eq_ignore_ascii_case(&incoming.name) {
        return Some(1000);
    }
    // A part that tells itself apart by its words only, such as two kinds of keys, may stand in for its family.
    let loose = matches!(voice.family, Family::Music | Family::Percussion | Family::Bass);
    let stands_in = loose || role.part().is_none() || names.part().is_none();
    role.likeness(names).or((voice.family == incoming.family && stands_in).then_some(1))
}

/// Where each of several sounds goes, in their order: no lane gets two. A lane of the same family whose name says
/// another thing is taken only where it is the only one left for the only sound left.
///
/// * `among` – the lanes that may be taken.
///
/// Cost: lanes times sounds.
fn matched(s: &Session, incoming: &[Incoming], among: impl Fn(&Voice) -> bool) -> Vec<Option<VoiceId>> {
    let roles: Vec<Role> = incoming.iter().map(|i| Role::of(&i.name)).collect();
    let lanes: Vec<(&Voice, Role)> =
        Shared::values(&s.voices).filter(|v| among(v)).map(|v| (v, Role::of(&v.name))).collect();
    let mut pairs: Vec<(u32, usize, usize)> = Vec::new();
    for (lane, (voice, role)) in lanes.iter().enumerate() {
        for (at, wanted) in incoming.iter().enumerate() {
            pairs.extend(fits(voice, role, wanted, &roles[at]).map(|fit| (fit, at, lane)));
        }
    }
    pairs.sort_by_key(|(fit, at, lane)| (u32::MAX - fit, *at, *lane));
    let mut found: Vec<Option<VoiceId>> = vec![None; incoming.len()];
    let mut taken: HashSet<usize> = HashSet::new();
    for (_, at, lane) in pairs.iter().copied().filter(|(fit, ..)| *fit > 1) {
        if found[at].is_none() && !taken.contains(&lane) {
            found[at] = Some(lanes[lane].0.id);
            taken.insert(lane);
        }
    }
    for family in Family::ALL {
        let sounds: Vec<usize> =
            (0..incoming.len()).filter(|at| found[*at].is_none() && incoming[*at].family == family).collect();
        let left: Vec<usize> =
            (0..lanes.len()).filter(|lane| !taken.contains(lane) && lanes[*lane].0.family == family).collect();
        if let ([at], [lane]) = (&sounds[..], &left[..])
            && pairs.contains(&(1, *at, *lane))
        {
            found[*at] = Some(lanes[*lane].0.id);
        }
    }
    found
}

/// The bus that most lanes of each family feed, the mix bus apart.
fn family_buses(s: &Session) -> BTreeMap<Family, StripId> {
    let mut counts: BTreeMap<(Family, StripId), usize> = BTreeMap::new();
    for voice in &s.voices {
        let bus = s.strip(voice.channel).and_then(|c| c.output).and_then(|id| s.strip(id));
        if let Some(bus) = bus.filter(|b| b.kind == StripKind::Bus && b.id != s.mix_bus) {
            *counts.entry((voice.family, bus.id)).or_default() += 1;
        }
    }
    let mut best: BTreeMap<Family, (usize, StripId)> = BTreeMap::new();
    for ((family, bus), count) in counts {
        let most = best.entry(family).or_insert((0, bus));
        if count > most.0 {
            *most = (count, bus);
        }
    }
    best.into_iter().map(|(family, (_, bus))| (family, bus)).collect()
}

/// Whether a lane waits for a sound: it has none, or one that only stands in for it.
fn waits(voice: &Voice, stand_ins: &[AssetId]) -> bool {
    match &voice.source {
        VoiceSource::Empty => true,
        VoiceSource::OneShot { layers, .. } => {
            matches!(&layers[..], [one] if stand_ins.contains(&one.asset) && *one == Layer::new(one.asset.clone()))
        }
        VoiceSource::Recording { .. } => false,
    }
}

/// Where sounds go: lanes that wait for one first.
///
/// * `stand_ins` – sounds that lanes of a take play until they get their own.
pub fn destinations(s: &Session, incoming: &[Incoming], stand_ins: &[AssetId]) -> Vec<Destination> {
    let buses = family_buses(s);
    let lanes = matched(s, incoming, |v| waits(v, stand_ins));
    let to = |(voice, i): (Option<VoiceId>, &Incoming)| Destination { voice, output: buses.get(&i.family).copied() };
    lanes.into_iter().zip(incoming).map(to).collect()
}

/// Whether a lane can get notes: it plays hits, and hits of its own.
pub(super) fn takes_notes(voice: &Voice) -> bool {
    !matches!(voice.source, VoiceSource::Recording { .. }) && voice.follows.is_none()
}

/// Where notes go: lanes that play hits, with a sound or without.
pub(super) fn note_lanes(s: &Session, incoming: &[Incoming]) -> Vec<Option<VoiceId>> {
    note_lanes_but(s, incoming, &HashSet::new())
}

/// The same, with some lanes left out.
pub(super) fn note_lanes_but(s: &Session, incoming: &[Incoming], taken: &HashSet<VoiceId>) -> Vec<Option<VoiceId>> {
    matched(s, incoming, |v| takes_notes(v) && !taken.contains(&v.id))
}
