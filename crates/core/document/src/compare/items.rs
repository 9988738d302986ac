//! The least that differs.

use super::DifferenceKind;
use crate::session::{Session, Shared, Strip, Voice};
use lane_units::{PatternId, ProcessorId, StripId, TakeId, VoiceId};
use std::collections::HashMap;
use std::fmt::Write;

/// Names parts of a whole by the fields that they are made of, and those that are compared otherwise: a field that nobody
/// compares does not compile.
macro_rules! compared {
    (
        $(#[$about:meta])*
        $name:ident of $whole:ident {
            $($(#[$of:meta])* $part:ident: $($field:ident),+;)+
        } else { $($other:ident),+ }
    ) => {
        $(#[$about])*
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
        pub(super) enum $name {
            $($(#[$of])* $part),+
        }

        const _: fn($whole) = |$whole { $($($field: _,)+)+ $($other: _),+ }| ();

        impl $name {
            pub const ALL: &[$name] = &[$($name::$part),+];

            /// Puts it from one into another.
            pub fn take(self, to: &mut $whole, from: &$whole) {
                match self {
                    $($name::$part => { $(to.$field = Clone::clone(&from.$field);)+ })+
                }
            }

            fn differs(self, a: &$whole, b: &$whole) -> bool {
                match self {
                    $($name::$part => $(a.$field != b.$field)||+),+
                }
            }
        }
    };
}

compared! {
    /// A value of a strip.
    StripField of Strip {
        Name: name;
        Trim: trim_db;
        Polarity: polarity;
        Offset: offset_frames;
        Fader: fader_db;
        Pan: pan_percent;
        Width: width_percent;
        Mute: mute;
        Solo: solo, solo_safe;
        Target: target;
        Output: output;
        Kind: kind;
    } else { id, chain, sends }
}

compared! {
    /// A part of a voice.
    VoiceField of Voice {
        Name: name;
        Source: source;
        /// Family, choke set, swing, timing.
        Feel: family, choke_set, swing, late_ms;
        /// Whose hits it plays.
        Follows: follows;
        /// The channel that it runs on.
        Channel: channel;
    } else { id }
}

/// A list of a document whose order differs.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(super) enum List {
    Voices,
    Strips,
    Takes,
    Parts,
}

/// The least that can be taken over.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(super) enum Item {
    /// Tempo, metre, swing, key and the rest of the header.
    Header,
    /// Patterns and sections, with hits of patterns that one side lacks.
    Song,
    MixBus,
    StemPlan,
    Dismissed,
    References,
    Strip(StripId, StripField),
    Processor(StripId, ProcessorId),
    /// The order of the processors that both have.
    ChainOrder(StripId),
    Send(StripId, StripId),
    /// The order of the sends that both have.
    SendOrder(StripId),
    Voice(VoiceId, VoiceField),
    Hits(PatternId, VoiceId),
    Take(TakeId),
    /// A strip that one side lacks.
    OnlyStrip(StripId),
    /// A voice that one side lacks, with its hits.
    OnlyVoice(VoiceId),
    Order(List),
}

impl Item {
    pub fn key(&self) -> String {
        let mut key = String::new();
        // Writing to a string cannot fail.
        let _ = write!(key, "{self:?}");
        key.retain(|c| !c.is_whitespace());
        key
    }

    pub fn kind(&self) -> DifferenceKind {
        match self {
            Item::Header | Item::Song | Item::Take(_) => DifferenceKind::Song,
            Item::StemPlan | Item::Dismissed | Item::References | Item::Order(_) | Item::SendOrder(_) => {
                DifferenceKind::Rest
            }
            Item::MixBus | Item::Send(..) | Item::Strip(_, StripField::Output | StripField::Kind) => {
                DifferenceKind::Routing
            }
            Item::Strip(..) => DifferenceKind::Levels,
            Item::Processor(..) | Item::ChainOrder(_) => DifferenceKind::Chain,
            Item::Voice(_, VoiceField::Channel) => DifferenceKind::Routing,
            Item::Voice(..) => DifferenceKind::Sound,
            Item::Hits(..) => DifferenceKind::Hits,
            Item::OnlyStrip(_) | Item::OnlyVoice(_) => DifferenceKind::Rows,
        }
    }

    /// The row that it is about.
    pub fn strip(&self, now: &Session, then: &Session) -> Option<StripId> {
        let channel = |id: VoiceId| now.voice(id).or_else(|| then.voice(id)).map(|v| v.channel);
        match self {
            Item::Strip(id, _)
            | Item::Processor(id, _)
            | Item::ChainOrder(id)
            | Item::Send(id, _)
            | Item::SendOrder(id)
            | Item::OnlyStrip(id) => Some(*id),
            Item::Voice(id, _) | Item::Hits(_, id) | Item::OnlyVoice(id) => channel(*id),
            Item::Header
            | Item::Song
            | Item::MixBus
            | Item::StemPlan
            | Item::Dismissed
            | Item::References
            | Item::Take(_)
            | Item::Order(_) => None,
        }
    }
}

/// Keys of two lists: those that the first, the second and both have, in the order of the first.
fn apart<K: std::hash::Hash + Eq + Copy>(now: &[K], then: &[K]) -> (Vec<K>, Vec<K>, Vec<K>) {
    let of = |list: &[K]| list.iter().copied().collect::<std::collections::HashSet<K>>();
    let (a, b) = (of(now), of(then));
    let only = |list: &[K], other: &std::collections::HashSet<K>| {
        list.iter().copied().filter(|k| !other.contains(k)).collect::<Vec<K>>()
    };
    (only(now, &b), only(then, &a), now.iter().copied().filter(|k| b.contains(k)).collect())
}

/// Whether what both lists have stands in another order in each.
fn reordered<K: std::hash::Hash + Eq + Copy>(now: &[K], then: &[K]) -> bool {
    let (_, _, both) = apart(now, then);
    let (_, _, other) = apart(then, now);
    both != other
}

/// Everything that differs.
pub(super) fn items(now: &Session, then: &Session) -> Vec<Item> {
    let mut found = Vec::new();
    let mut when = |differs: bool, item: Item| {
        if differs {
            found.push(item);
        }
    };
    when(now.header != then.header, Item::Header);
    when((&now.patterns, &now.sections) != (&then.patterns, &then.sections), Item::Song);
    when(now.mix_bus != then.mix_bus, Item::MixBus);
    when(now.stem_plan != then.stem_plan, Item::StemPlan);
    when(now.dismissed != then.dismissed, Item::Dismissed);
    when(now.references != then.references, Item::References);
    strips(now, then, &mut found);
    voices(now, then, &mut found);
    let takes = |s: &Session| s.takes.iter().map(|t| t.id).collect::<Vec<_>>();
    let (gone, new, both) = apart(&takes(now), &takes(then));
    found.extend(gone.into_iter().chain(new).map(Item::Take));
    found.extend(both.into_iter().filter(|id| now.take(*id) != then.take(*id)).map(Item::Take));
    let orders = [
        (List::Voices, keys(&now.voices, |v| v.id.0) != keys(&then.voices, |v| v.id.0)),
        (List::Strips, keys(&now.strips, |s| s.id.0) != keys(&then.strips, |s| s.id.0)),
        (List::Takes, keys(&now.takes, |t| t.id.0) != keys(&then.takes, |t| t.id.0)),
        (List::Parts, keys(&now.parts, |p| (p.pattern, p.voice)) != keys(&then.parts, |p| (p.pattern, p.voice))),
    ];
    // An order is one only once the same things stand in it.
    let same = |list: List| match list {
        List::Voices => sorted(&now.voices, |v| v.id.0) == sorted(&then.voices, |v| v.id.0),
        List::Strips => sorted(&now.strips, |s| s.id.0) == sorted(&then.strips, |s| s.id.0),
        List::Takes => sorted(&now.takes, |t| t.id.0) == sorted(&then.takes, |t| t.id.0),
        List::Parts => {
            sorted(&now.parts, |p| (p.pattern.0, p.voice.0)) == sorted(&then.parts, |p| (p.pattern.0, p.voice.0))
        }
    };
    found.extend(
        orders.into_iter().filter(|(list, differs)| *differs && same(*list)).map(|(list, _)| Item::Order(list)),
    );
    found
}

fn keys<T, K>(list: &[Shared<T>], key: impl Fn(&T) -> K) -> Vec<K> {
    list.iter().map(|x| key(x)).collect()
}

fn sorted<T, K: Ord>(list: &[Shared<T>], key: impl Fn(&T) -> K) -> Vec<K> {
    let mut all = keys(list, key);
    all.sort();
    all
}

fn strips(now: &Session, then: &Session, found: &mut Vec<Item>) {
    let ids = |s: &Session| s.strips.iter().map(|x| x.id).collect::<Vec<_>>();
    let (gone, new, both) = apart(&ids(now), &ids(then));
    found.extend(gone.into_iter().chain(new).map(Item::OnlyStrip));
    let other: HashMap<StripId, &Shared<Strip>> = then.strips.iter().map(|s| (s.id, s)).collect();
    for (a, b) in now.strips.iter().filter(|s| both.contains(&s.id)).map(|s| (s, other[&s.id])).filter(|(a, b)| a != b)
    {
        found.extend(StripField::ALL.iter().filter(|f| f.differs(a, b)).map(|f| Item::Strip(a.id, *f)));
        let chain = |s: &Strip| s.chain.iter().map(|p| p.id).collect::<Vec<_>>();
        let (gone, new, common) = apart(&chain(a), &chain(b));
        let changed = common.into_iter().filter(|id| a.processor(*id) != b.processor(*id));
        found.extend(gone.into_iter().chain(new).chain(changed).map(|id| Item::Processor(a.id, id)));
        if reordered(&chain(a), &chain(b)) {
            found.push(Item::ChainOrder(a.id));
        }
        let sends = |s: &Strip| s.sends.iter().map(|x| x.to).collect::<Vec<_>>();
        let (gone, new, common) = apart(&sends(a), &sends(b));
        let changed = common.into_iter().filter(|id| a.send_to(*id) != b.send_to(*id));
        found.extend(gone.into_iter().chain(new).chain(changed).map(|to| Item::Send(a.id, to)));
        if reordered(&sends(a), &sends(b)) {
            found.push(Item::SendOrder(a.id));
        }
    }
}

fn voices(now: &Session, then: &Session, found: &mut Vec<Item>) {
    let ids = |s: &Session| s.voices.iter().map(|x| x.id).collect::<Vec<_>>();
    let (gone, new, both) = apart(&ids(now), &ids(then));
    found.extend(gone.into_iter().chain(new).map(Item::OnlyVoice));
    let shared: std::collections::HashSet<VoiceId> = both.iter().copied().collect();
    for id in both {
        let (Some(a), Some(b)) = (now.voice(id), then.voice(id)) else { continue };
        found.extend(VoiceField::ALL.iter().filter(|p| p.differs(a, b)).map(|p| Item::Voice(id, *p)));
    }
    let patterns = |s: &Session| s.patterns.iter().map(|p| p.id).collect::<Vec<_>>();
    let (_, _, known) = apart(&patterns(now), &patterns(then));
    // Hits of what one side lacks go with that.
    let counts = |p: &crate::session::Part| shared.contains(&p.voice) && known.contains(&p.pattern);
    let parts = |s: &Session| -> Vec<(PatternId, VoiceId)> {
        s.parts.iter().filter(|p| counts(p)).map(|p| (p.pattern, p.voice)).collect()
    };
    let by_key = |s: &Session| -> HashMap<(PatternId, VoiceId), Shared<crate::session::Part>> {
        s.parts.iter().map(|p| ((p.pattern, p.voice), p.clone())).collect()
    };
    let (a, b) = (by_key(now), by_key(then));
    let (gone, new, common) = apart(&parts(now), &parts(then));
    let changed = common.into_iter().filter(|key| a.get(key) != b.get(key));
    found.extend(gone.into_iter().chain(new).chain(changed).map(|(pattern, voice)| Item::Hits(pattern, voice)));
}
