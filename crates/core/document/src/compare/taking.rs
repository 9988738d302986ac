//! A session with some items of another state of it, and which items hang together.

use super::items::{Item, List, StripField, VoiceField};
use crate::routing;
use crate::session::{Key, Session, Shared, Strip, Voice};
use lane_units::{PatternId, StripId, VoiceId};
use std::collections::{HashMap, HashSet};

/// Puts a piece of a list where it stands in another: behind the one that stands before it there, as far as that is here.
fn put<T: Clone + PartialEq, K: PartialEq>(to: &mut Vec<T>, from: &[T], key: impl Fn(&T) -> K, wanted: &K) {
    let Some(at) = from.iter().position(|x| key(x) == *wanted) else {
        return to.retain(|x| key(x) != *wanted);
    };
    if let Some(here) = to.iter().position(|x| key(x) == *wanted) {
        to[here] = from[at].clone();
        return;
    }
    let before = from[..at].iter().rev().find_map(|x| to.iter().position(|y| key(y) == key(x)));
    to.insert(before.map_or(0, |n| n + 1), from[at].clone());
}

/// Puts what both lists have into the order of the second; the rest keeps its place.
fn reorder<T: Clone, K: PartialEq>(to: &mut [T], from: &[T], key: impl Fn(&T) -> K) {
    let places: Vec<usize> = (0..to.len()).filter(|at| from.iter().any(|x| key(x) == key(&to[*at]))).collect();
    let wanted: Vec<T> = from.iter().filter_map(|x| to.iter().find(|y| key(y) == key(x)).cloned()).collect();
    places.into_iter().zip(wanted).for_each(|(at, x)| to[at] = x);
}

/// The session with some items of the other state.
pub(super) fn with(now: &Session, then: &Session, items: &[&Item]) -> Session {
    let mut s = now.clone();
    for asset in &then.assets {
        if s.asset(&asset.id).is_none() {
            s.assets.push(asset.clone());
        }
    }
    for item in items {
        take(&mut s, now, then, item);
    }
    let used = s.named_assets();
    s.assets.retain(|a| used.contains(&a.id));
    s
}

fn take(s: &mut Session, now: &Session, then: &Session, item: &Item) {
    let strip = |s: &mut Session, id: StripId, change: &mut dyn FnMut(&mut Strip, &Strip)| {
        if let (Some(to), Some(from)) = (s.strips.iter_mut().find(|x| x.id == id), then.strip(id)) {
            change(to, from);
        }
    };
    let part = |p: &Shared<crate::session::Part>| (p.pattern, p.voice);
    match item {
        Item::Header => s.header = then.header.clone(),
        Item::MixBus => s.mix_bus = then.mix_bus,
        Item::StemPlan => s.stem_plan = then.stem_plan.clone(),
        Item::Dismissed => s.dismissed = then.dismissed.clone(),
        Item::References => s.references = then.references.clone(),
        Item::Song => {
            (s.patterns, s.sections) = (then.patterns.clone(), then.sections.clone());
            let known = |of: &Session, id: PatternId| of.pattern(id).is_some();
            s.parts.retain(|p| known(then, p.pattern));
            let here: HashSet<VoiceId> = s.voices.iter().map(|v| v.id).collect();
            for p in then.parts.iter().filter(|p| !known(now, p.pattern) && here.contains(&p.voice)) {
                put(&mut s.parts, &then.parts, part, &part(p));
            }
        }
        Item::Strip(id, field) => strip(s, *id, &mut |to, from| field.take(to, from)),
        Item::Processor(id, processor) => {
            strip(s, *id, &mut |to, from| put(&mut to.chain, &from.chain, |p| p.id, processor));
        }
        Item::ChainOrder(id) => strip(s, *id, &mut |to, from| reorder(&mut to.chain, &from.chain, |p| p.id)),
        Item::Send(id, send) => strip(s, *id, &mut |to, from| put(&mut to.sends, &from.sends, |x| x.to, send)),
        Item::SendOrder(id) => strip(s, *id, &mut |to, from| reorder(&mut to.sends, &from.sends, |x| x.to)),
        Item::Voice(id, part) => {
            if let (Some(to), Some(from)) = (s.voices.iter_mut().find(|v| v.id == *id), then.voice(*id)) {
                part.take(to, from);
            }
        }
        Item::Hits(pattern, voice) => put(&mut s.parts, &then.parts, part, &(*pattern, *voice)),
        Item::Take(id) => put(&mut s.takes, &then.takes, |t| t.id, id),
        Item::OnlyStrip(id) => put(&mut s.strips, &then.strips, |x| x.id, id),
        Item::OnlyVoice(id) => {
            put(&mut s.voices, &then.voices, |v| v.id, id);
            s.parts.retain(|p| p.voice != *id);
            let here: HashSet<PatternId> = s.patterns.iter().map(|p| p.id).collect();
            for p in then.parts.iter().filter(|p| p.voice == *id && here.contains(&p.pattern)) {
                put(&mut s.parts, &then.parts, part, &part(p));
            }
        }
        Item::Order(List::Voices) => reorder(&mut s.voices, &then.voices, |v| v.id),
        Item::Order(List::Strips) => reorder(&mut s.strips, &then.strips, |x| x.id),
        Item::Order(List::Takes) => reorder(&mut s.takes, &then.takes, |t| t.id),
        Item::Order(List::Parts) => reorder(&mut s.parts, &then.parts, part),
    }
}

/// What an item cannot stand without: a strip, a voice or a pattern that one side lacks.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
enum Need {
    Strip(StripId),
    Voice(VoiceId),
    Song,
}

fn needs(item: &Item, now: &Session, then: &Session) -> Vec<Need> {
    let mut found = Vec::new();
    let of_key = |key: Option<Key>, found: &mut Vec<Need>| {
        found.extend(key.into_iter().flat_map(Key::sources).map(Need::Strip));
    };
    let of_strip = |strip: &Strip, found: &mut Vec<Need>| {
        found.extend(strip.output.map(Need::Strip));
        found.extend(strip.sends.iter().map(|x| Need::Strip(x.to)));
        strip.chain.iter().for_each(|p| of_key(p.key, found));
    };
    let of_voice = |voice: &Voice, found: &mut Vec<Need>| {
        found.push(Need::Strip(voice.channel));
        found.extend(voice.follows.map(Need::Voice));
    };
    for s in [now, then] {
        match item {
            Item::Strip(id, StripField::Output) => found.extend(s.strip(*id).and_then(|x| x.output).map(Need::Strip)),
            Item::Processor(id, p) => {
                of_key(s.strip(*id).and_then(|x| x.processor(*p)).and_then(|p| p.key), &mut found)
            }
            Item::Send(_, to) => found.push(Need::Strip(*to)),
            Item::Voice(id, VoiceField::Channel) => found.extend(s.voice(*id).map(|v| Need::Strip(v.channel))),
            Item::Voice(id, VoiceField::Follows) => found.extend(s.voice(*id).and_then(|v| v.follows).map(Need::Voice)),
            Item::MixBus => found.push(Need::Strip(s.mix_bus)),
            Item::StemPlan => {
                let plan = &s.stem_plan;
                let named = plan.without.iter().chain(&plan.with_buses).chain(plan.taps.iter().map(|t| &t.strip));
                found.extend(named.map(|id| Need::Strip(*id)));
                found.extend(matches!(plan.range, crate::session::StemRange::Section { .. }).then_some(Need::Song));
            }
            Item::OnlyStrip(id) => {
                found.push(Need::Strip(*id));
                s.strip(*id).into_iter().for_each(|x| of_strip(x, &mut found));
            }
            Item::OnlyVoice(id) => {
                found.push(Need::Voice(*id));
                s.voice(*id).into_iter().for_each(|v| of_voice(v, &mut found));
                let other = if std::ptr::eq(s, now) { then } else { now };
                let lacks = |p: &crate::session::Part| p.voice == *id && other.pattern(p.pattern).is_none();
                found.extend(s.parts.iter().any(|p| lacks(p)).then_some(Need::Song));
            }
            Item::Take(id) => {
                if let Some(take) = s.take(*id) {
                    found.extend(take.groups.iter().map(|g| Need::Voice(g.voice)));
                    found.push(Need::Song);
                }
            }
            Item::Song => found.push(Need::Song),
            _ => {}
        }
    }
    found
}

/// Items that hang together, by their places: what needs the same thing that one side lacks, and beyond that what does not
/// stand alone.
pub(super) fn groups(now: &Session, then: &Session, items: &[Item]) -> Vec<Vec<usize>> {
    let one_sided = |need: &Need| match need {
        Need::Strip(id) => now.strip(*id).is_some() != then.strip(*id).is_some(),
        Need::Voice(id) => now.voice(*id).is_some() != then.voice(*id).is_some(),
        Need::Song => {
            now.patterns.iter().map(|p| p.id).ne(then.patterns.iter().map(|p| p.id))
                || now.sections.iter().map(|p| p.id).ne(then.sections.iter().map(|p| p.id))
        }
    };
    let mut parents: Vec<usize> = (0..items.len()).collect();
    fn root(parents: &mut [usize], mut at: usize) -> usize {
        while parents[at] != at {
            parents[at] = parents[parents[at]];
            at = parents[at];
        }
        at
    }
    let mut by_need: HashMap<Need, usize> = HashMap::new();
    for (at, item) in items.iter().enumerate() {
        for need in needs(item, now, then).into_iter().filter(one_sided) {
            let other = *by_need.entry(need).or_insert(at);
            let (a, b) = (root(&mut parents, at), root(&mut parents, other));
            parents[a.max(b)] = a.min(b);
        }
    }
    let mut found: Vec<Vec<usize>> = Vec::new();
    let mut places: HashMap<usize, usize> = HashMap::new();
    for at in 0..items.len() {
        let of = root(&mut parents, at);
        let group = *places.entry(of).or_insert_with(|| {
            found.push(Vec::new());
            found.len() - 1
        });
        found[group].push(at);
    }
    // What still does not stand alone, such as a detour that only another change lets through, goes together.
    let stands = |group: &[usize]| {
        let members: Vec<&Item> = group.iter().map(|at| &items[*at]).collect();
        let with = with(now, then, &members);
        with.validate().is_ok() && routing::order(&with).is_ok()
    };
    let (mut alone, held): (Vec<_>, Vec<_>) = found.into_iter().partition(|group| stands(group));
    if held.is_empty() {
        return alone;
    }
    let mut together: Vec<usize> = held.into_iter().flatten().collect();
    if !stands(&together) {
        // Then with all that is about connections, and at last with everything.
        let connects =
            |at: &usize| !matches!(items[*at].kind(), super::DifferenceKind::Levels | super::DifferenceKind::Hits);
        let (with, rest): (Vec<_>, Vec<_>) = alone.into_iter().partition(|group| group.iter().any(connects));
        together.extend(with.into_iter().flatten());
        alone = rest;
        if !stands(&together) {
            together.extend(std::mem::take(&mut alone).into_iter().flatten());
        }
    }
    together.sort_unstable();
    alone.push(together);
    alone
}
