//! From the document to what the engine is told: only what changed, as records of plain numbers. It runs where time does
//! not matter, on the page or before a render; the engine searches, parses and works out nothing.

use crate::following::plan::{ConnectionPlan, Plan, SlotSetting, StripPlan};
use crate::strips::connection::Source;
use crate::time::score::{Grid, Score, moves_percent};
use crate::voices::player::{kernel_step, write_source};
use lane_document::session::{Part, Session, Shared, Song, Voice, VoiceSource};
use lane_units::{AssetId, IdMap, IdSet, PatternId, VoiceId};
use std::collections::{BTreeMap, BTreeSet, HashMap};

/// What a record says.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[repr(u8)]
pub(crate) enum Record {
    /// Where time stands in the song.
    Grid = 1,
    /// What is connected to what.
    Structure,
    /// A strip's trim, then its matrix.
    Gains,
    /// A connection's matrix.
    Link,
    /// What a processor follows.
    Slot,
    /// What a voice plays its hits on.
    Source,
    /// How a voice swings, and how late it plays.
    Feel,
    /// What a voice plays in a pattern.
    Part,
    /// Tunings that are read between the frames of samples.
    Kernels,
}

impl Record {
    pub const ALL: [Record; 9] = [
        Record::Grid,
        Record::Structure,
        Record::Gains,
        Record::Link,
        Record::Slot,
        Record::Source,
        Record::Feel,
        Record::Part,
        Record::Kernels,
    ];

    pub fn of(word: f64) -> Option<Record> {
        Record::ALL.into_iter().find(|r| f64::from(*r as u8) == word)
    }
}

/// Follows a document and says what changed in it.
#[derive(Default)]
pub struct Compiler {
    seen: Option<(Session, Plan)>,
    numbers: HashMap<AssetId, usize>,
    /// Tunings that the engine knows of.
    kernels: BTreeSet<usize>,
    words: Vec<f64>,
}

impl Compiler {
    /// One that has seen nothing.
    pub fn new() -> Self {
        Compiler::default()
    }

    /// Begins anew for an engine that knows nothing; numbers stay.
    pub fn forget(&mut self) {
        (self.seen, self.kernels) = (None, BTreeSet::new());
    }

    /// The number of a piece of audio, the same for ever.
    pub fn number(&mut self, id: &AssetId) -> usize {
        number(&mut self.numbers, id)
    }

    /// What is new in a valid document since the last call, as words for [`super::Engine::take`]; everything at first.
    ///
    /// Cost: a look at each piece of the document for finding what changed; what it takes to say it goes by what changed.
    pub fn changes(&mut self, session: &Session) -> &[f64] {
        self.words.clear();
        let seen = self.seen.take();
        let (old, old_plan) = match &seen {
            Some((old, plan)) => (Some(old), Some(plan)),
            None => (None, None),
        };
        if old != Some(session) {
            self.write_grid(old, session);
            let plan = self.write_strips(old, old_plan, session);
            self.write_voices(old, old_plan, session, &plan);
            self.seen = Some((session.clone(), plan));
        } else {
            self.seen = seen;
        }
        &self.words
    }

    /// The same for an engine that shares its shelf with the one that another compiler speaks to: audio has that one's
    /// numbers.
    pub fn changes_beside(&mut self, other: &mut Compiler, session: &Session) -> &[f64] {
        std::mem::swap(&mut self.numbers, &mut other.numbers);
        self.changes(session);
        std::mem::swap(&mut self.numbers, &mut other.numbers);
        &self.words
    }

    /// One record.
    fn record(&mut self, record: Record, write: impl FnOnce(&mut Vec<f64>)) {
        let at = self.words.len();
        self.words.extend([f64::from(record as u8), 0.0]);
        write(&mut self.words);
        self.words[at + 1] = (self.words.len() - at - 2) as f64;
    }

    fn write_grid(&mut self, old: Option<&Session>, session: &Session) {
        let same = old.is_some_and(|old| {
            old.header.tempo_bpm == session.header.tempo_bpm
                && old.header.metre == session.header.metre
                && old.sections == session.sections
                && old.patterns == session.patterns
        });
        if !same {
            self.record(Record::Grid, |words| Grid::write(&Song::new(session), words));
        }
    }

    fn write_strips(&mut self, old: Option<&Session>, old_plan: Option<&Plan>, session: &Session) -> Plan {
        let routed = |s: &Session| {
            let of = |v: &Voice| (v.id, v.channel, v.choke_set, std::mem::discriminant(&v.source));
            Shared::values(&s.voices).map(of).collect::<Vec<_>>()
        };
        if let (Some(old), Some(plan)) = (old, old_plan)
            && old.strips == session.strips
            && old.header.pan_law == session.header.pan_law
            && old.header.tempo_bpm == session.header.tempo_bpm
            && old.header.metre == session.header.metre
            && routed(old) == routed(session)
        {
            return plan.clone();
        }
        let plan = Plan::new(session);
        match old_plan.filter(|old| same_structure(old, &plan)) {
            Some(old) => self.write_values(old, &plan),
            None => self.record(Record::Structure, |words| write_structure(old_plan, &plan, words)),
        }
        plan
    }

    fn write_values(&mut self, old: &Plan, plan: &Plan) {
        for (at, (was, is)) in old.strips.iter().zip(&plan.strips).enumerate() {
            if (was.trim, was.post) != (is.trim, is.post) {
                self.record(Record::Gains, |words| {
                    words.extend([at as f64, is.trim]);
                    words.extend(is.post.0);
                });
            }
            for (slot, (was, is)) in was.slots.iter().zip(&is.slots).enumerate() {
                if (was.key_corners, was.weighing, &was.planned) != (is.key_corners, is.weighing, &is.planned)
                    || !was.plan.does_as(&is.plan)
                {
                    self.record(Record::Slot, |words| {
                        words.extend([at as f64, slot as f64]);
                        write_slot(is, plan.sample_rate, words);
                    });
                }
            }
        }
        for (at, (was, is)) in old.connections.iter().zip(&plan.connections).enumerate() {
            if was.gain != is.gain {
                self.record(Record::Link, |words| {
                    words.push(at as f64);
                    words.extend(is.gain.0);
                });
            }
        }
    }

    fn write_voices(&mut self, old: Option<&Session>, old_plan: Option<&Plan>, session: &Session, plan: &Plan) {
        let same = |old: &Session| {
            (&old.voices, &old.parts, &old.assets) == (&session.voices, &session.parts, &session.assets)
                && old.header.swing == session.header.swing
                && old.header.sample_rate == session.header.sample_rate
        };
        if old.is_some_and(same) && old_plan.is_some_and(|old| old.voices == plan.voices) {
            return;
        }
        let known: IdSet<VoiceId> = old_plan.into_iter().flat_map(|p| p.voices.iter().map(|v| v.id)).collect();
        let by_id = |s: &'_ Session| -> IdMap<VoiceId, usize> {
            s.voices.iter().enumerate().map(|(at, v)| (v.id, at)).collect()
        };
        let (was_at, is_at) = (old.map(by_id).unwrap_or_default(), by_id(session));
        let changed = old.is_none_or(|old| old.parts != session.parts).then(|| changed_parts(old, session));
        let feel = |s: &Session, v: &Voice| (v.swing.unwrap_or(s.header.swing), v.late_ms, moves_percent(v));
        let leader = |v: &Voice| v.follows.unwrap_or(v.id);
        let rate = session.header.sample_rate;
        for (at, planned) in plan.voices.iter().enumerate() {
            let voice = &session.voices[is_at[&planned.id]];
            let before = was_at.get(&voice.id).filter(|_| known.contains(&voice.id));
            let before = old.zip(before).map(|(old, at)| (old, &*old.voices[*at]));
            let lengths = |s: &Session, v: &Voice| {
                v.source.assets().iter().map(|id| s.asset(id).map_or(0, |a| a.frames)).collect::<Vec<_>>()
            };
            let same = |(old, was): (&Session, &Voice)| {
                was.source == voice.source
                    && (old.assets == session.assets || lengths(old, was) == lengths(session, voice))
            };
            let mut tuned = false;
            if !before.is_some_and(same) {
                let mut numbers = std::mem::take(&mut self.numbers);
                let length = |id: &AssetId| session.asset(id).map_or(0, |a| u64::from(a.frames));
                self.record(Record::Source, |words| {
                    words.push(at as f64);
                    write_source(&voice.source, rate, |id| (number(&mut numbers, id), length(id)), words);
                });
                self.numbers = numbers;
                tuned = true;
            }
            if before.is_none_or(|(old, was)| feel(old, was) != feel(session, voice)) {
                self.record(Record::Feel, |words| {
                    words.push(at as f64);
                    Score::write_feel(session, voice, words);
                });
            }
            let other_leader = before.is_none_or(|(_, was)| leader(was) != leader(voice));
            let mut parts: BTreeMap<PatternId, Option<&Part>> = BTreeMap::new();
            if other_leader {
                if let Some((old, was)) = before {
                    parts.extend(old.parts.iter().filter(|p| p.voice == leader(was)).map(|p| (p.pattern, None)));
                }
                let new = Shared::values(&session.parts).filter(|p| p.voice == leader(voice));
                parts.extend(new.map(|p| (p.pattern, Some(p))));
            } else if let Some(changed) = changed.as_ref().and_then(|c| c.get(&leader(voice))) {
                parts.extend(changed.iter().copied());
            }
            tuned |= !parts.is_empty();
            for (pattern, part) in parts {
                self.record(Record::Part, |words| {
                    words.push(at as f64);
                    Score::write_part(pattern.0, part, words);
                });
            }
            if tuned {
                self.write_kernels(session, voice);
            }
        }
    }

    /// Asks for the tunings that a voice needs and that nobody asked for.
    fn write_kernels(&mut self, session: &Session, voice: &Voice) {
        let VoiceSource::OneShot { layers, .. } = &voice.source else { return };
        let leader = voice.follows.unwrap_or(voice.id);
        // A hit that is auditioned has no tuning of its own.
        let mut tunings = BTreeSet::from([(0_i8, 0_u64)]);
        for part in session.parts.iter().filter(|p| p.voice == leader) {
            let off = part.humanise.map_or(0, |h| libm::ceil(h.tune_ct) as u64);
            tunings.extend(part.hits.iter().map(|h| (h.tune_st, off)));
        }
        let mut fresh = Vec::new();
        for layer in layers {
            let glides = layer.sweep.is_some_and(|s| s.depth_st != 0.0);
            for (st, off) in &tunings {
                let (cents, off) = (layer.tune_ct + 100.0 * f64::from(*st), *off as f64);
                if glides || cents != 0.0 || off != 0.0 {
                    let steps = kernel_step(cents - off)..=kernel_step(cents + off);
                    fresh.extend(steps.filter(|step| self.kernels.insert(*step)));
                }
            }
        }
        if !fresh.is_empty() {
            self.record(Record::Kernels, |words| words.extend(fresh.iter().map(|step| *step as f64)));
        }
    }
}

fn number(numbers: &mut HashMap<AssetId, usize>, id: &AssetId) -> usize {
    if let Some(number) = numbers.get(id) {
        return *number;
    }
    let next = numbers.len();
    numbers.insert(id.clone(), next);
    next
}

type Changed<'a> = IdMap<VoiceId, Vec<(PatternId, Option<&'a Part>)>>;

/// Parts that are new or other by voice, and those that are gone.
fn changed_parts<'a>(old: Option<&Session>, session: &'a Session) -> Changed<'a> {
    let mut before: IdMap<(PatternId, VoiceId), &Part> =
        old.into_iter().flat_map(|s| Shared::values(&s.parts)).map(|p| ((p.pattern, p.voice), p)).collect();
    let mut changed = Changed::default();
    for part in &session.parts {
        if before.remove(&(part.pattern, part.voice)) != Some(part) {
            changed.entry(part.voice).or_default().push((part.pattern, Some(part)));
        }
    }
    for (pattern, voice) in before.into_keys() {
        changed.entry(voice).or_default().push((pattern, None));
    }
    changed
}

/// Whether the same strips, processors and voices are connected in the same way and are as late.
fn same_structure(old: &Plan, new: &Plan) -> bool {
    let slot = |a: &SlotSetting, b: &SlotSetting| {
        a.id == b.id
            && a.key_corners.is_some() == b.key_corners.is_some()
            && a.plan.latency(old.sample_rate) == b.plan.latency(new.sample_rate)
            && std::mem::discriminant(&a.plan.settings) == std::mem::discriminant(&b.plan.settings)
    };
    let strip = |(a, b): (&StripPlan, &StripPlan)| {
        (a.id, a.takes_voices, a.arrives, a.leaves, a.slots.len())
            == (b.id, b.takes_voices, b.arrives, b.leaves, b.slots.len())
            && a.slots.iter().zip(&b.slots).all(|(a, b)| slot(a, b))
    };
    let link = |(a, b): (&ConnectionPlan, &ConnectionPlan)| {
        (a.link, a.from, a.to, a.slot, a.source, a.wait) == (b.link, b.from, b.to, b.slot, b.source, b.wait)
    };
    old.sample_rate == new.sample_rate
        && old.voices == new.voices
        && (old.strips.len(), old.connections.len()) == (new.strips.len(), new.connections.len())
        && old.strips.iter().zip(&new.strips).all(strip)
        && old.connections.iter().zip(&new.connections).all(link)
}

/// Where a thing stood before; -1 for what is new.
fn place<K: std::hash::Hash + Eq>(places: &HashMap<K, usize>, key: &K) -> f64 {
    places.get(key).map_or(-1.0, |at| *at as f64)
}

fn places<K: std::hash::Hash + Eq>(keys: impl Iterator<Item = K>) -> HashMap<K, usize> {
    keys.enumerate().map(|(at, key)| (key, at)).collect()
}

fn write_structure(old: Option<&Plan>, plan: &Plan, words: &mut Vec<f64>) {
    let old_strips = places(old.into_iter().flat_map(|o| o.strips.iter().map(|s| s.id)));
    let old_links = places(old.into_iter().flat_map(|o| o.connections.iter().map(|c| c.link)));
    let old_voices = places(old.into_iter().flat_map(|o| o.voices.iter().map(|v| v.id)));
    words.push((0..plan.strips.len()).map(|at| plan.longest_wait(at)).max().unwrap_or(0) as f64);
    words.extend([plan.strips.len() as f64, plan.connections.len() as f64, plan.voices.len() as f64]);
    for (at, strip) in plan.strips.iter().enumerate() {
        let before = old_strips.get(&strip.id).copied();
        let rerouted = old.zip(before).is_some_and(|(old, before)| old.wiring(before) != plan.wiring(at));
        words.extend([f64::from(strip.id.0), place(&old_strips, &strip.id), f64::from(u8::from(rerouted))]);
        words.extend([f64::from(u8::from(strip.takes_voices)), f64::from(strip.arrives), f64::from(strip.leaves)]);
        words.push(strip.trim);
        words.extend(strip.post.0);
        words.push(strip.slots.len() as f64);
        let old_slots = before.and_then(|at| Some(&old?.strips[at].slots));
        for slot in &strip.slots {
            let before = old_slots.and_then(|slots| slots.iter().position(|s| s.id == slot.id));
            words.extend([f64::from(slot.id.0), before.map_or(-1.0, |at| at as f64)]);
            let at = words.len();
            words.push(0.0);
            write_slot(slot, plan.sample_rate, words);
            words[at] = (words.len() - at - 1) as f64;
        }
    }
    for c in &plan.connections {
        words.extend([place(&old_links, &c.link), c.from as f64, c.to as f64]);
        words.push(c.slot.map_or(-1.0, |slot| slot as f64));
        words.extend([f64::from(u8::from(c.source == Source::AfterChain)), c.wait as f64]);
        words.extend(c.gain.0);
    }
    for v in &plan.voices {
        words.extend([f64::from(v.id.0), place(&old_voices, &v.id), v.strip as f64]);
        words.push(v.choke_set.map_or(-1.0, f64::from));
    }
}

fn write_slot(slot: &SlotSetting, sample_rate: u32, words: &mut Vec<f64>) {
    let [high, low] = slot.key_corners.unwrap_or_default();
    words.extend([f64::from(u8::from(slot.key_corners.is_some())), high, low]);
    words.extend([slot.weighing.even, f64::from(slot.weighing.least)]);
    words.push(slot.planned.len() as f64);
    words.extend(slot.planned.iter().map(|strip| f64::from(*strip)));
    slot.plan.write(sample_rate, words);
}
