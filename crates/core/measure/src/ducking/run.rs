//! The run: a stretch is played round, and every ducker is heard with its key.

use super::figures::{DuckFigures, figures, opening};
use super::pair::{Pair, PairFigures};
use super::trace::{Trace, trace_of};
use crate::replay::{Beginnings, Round};
use crate::run::{BLOCK, Listener, PIECE, Run, SENSITIVITY, Source, Span};
use lane_analysis::onsets;
use lane_document::routing::{Latencies, Means, links};
use lane_document::session::{AssetBank, Audio, Key, Processor, Session, VoiceSource};
use lane_dsp::duckers::DuckKind;
use lane_engine::{Engine, LoopRange, Metering, Station, planned_hits};
use lane_units::{Frame, ProcessorId, StripId};
use serde::Serialize;
use std::collections::{HashMap, HashSet};

/// One ducker with what it does.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Ducker {
    /// Whose sound is ducked.
    pub strip: StripId,
    /// The processor.
    pub processor: ProcessorId,
    /// What it does, hit by hit.
    pub figures: DuckFigures,
    /// Whether its key sounds at all.
    pub keyed: bool,
    /// Whether there is any sound to duck.
    pub sounds: bool,
}

/// What is heard around a ducker, over the stretch as a listener has it: all of it in time with the hits.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct DuckerWaves {
    /// The key's peaks, linear, from the first to the last part of the stretch; the same parts for all. Nothing where it
    /// has no key.
    pub key: Vec<f32>,
    /// The sound's before; nothing where it was not in focus.
    pub before: Vec<f32>,
    /// The sound's behind; nothing where it was not in focus.
    pub behind: Vec<f32>,
    /// The most that is taken away, in dB.
    pub reduction_db: Vec<f32>,
}

/// The ducker that is looked at: its key and its sound are kept, to be seen and solved for. Of others, only what they take
/// away is heard, not what it does to their sounds.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Focus {
    /// None.
    None,
    /// One, beside the others.
    Beside(ProcessorId),
    /// One, and no other is heard.
    Alone(ProcessorId),
}

impl Focus {
    fn hears(self, processor: &Processor) -> bool {
        processor.ducks() && !matches!(self, Focus::Alone(id) if id != processor.id)
    }

    fn is(self, processor: &Processor) -> bool {
        matches!(self, Focus::Beside(id) | Focus::Alone(id) if id == processor.id)
    }
}

/// What is heard of duckers.
pub struct Traces {
    range: LoopRange,
    rate: u32,
    traces: Vec<Trace>,
    /// Of the one in focus.
    pair: Option<(ProcessorId, Pair)>,
    places: HashMap<(StripId, Station), Vec<usize>>,
    planned: HashMap<Vec<StripId>, Vec<u32>>,
}

/// A run on its way.
pub type Ducking = Run<Traces>;

impl Listener for Traces {
    const STATIONS: bool = true;

    fn station(&mut self, strip: StripId, station: Station, frames: &[Frame], kept: bool) {
        if let Some((_, pair)) = &mut self.pair
            && kept
            && station == Station::Out
        {
            pair.hear(strip, frames);
        }
        for at in self.places.get(&(strip, station)).into_iter().flatten() {
            self.traces[*at].hear(station, frames, kept);
        }
    }
}

impl Ducking {
    /// * `range` – the stretch, not empty.
    /// * `focus` – what is kept beside figures.
    pub fn new(session: &Session, bank: &AssetBank, range: LoopRange, focus: Focus) -> Self {
        let rate = session.header.sample_rate;
        let whole_session = session;
        let session = &heard_of(session, focus);
        let only = if let Focus::Alone(id) = focus { Some(id) } else { None };
        let focus = match focus {
            Focus::None => None,
            Focus::Beside(id) | Focus::Alone(id) => Some(id),
        };
        let engine = Engine::new(session, bank, BLOCK, Metering::Off);
        let mut span = Span::new(range, rate);
        // Whole pieces, so that the first that is kept begins with the stretch.
        span.ring = span.ring / PIECE as u64 * PIECE as u64;
        let (length, ring) = (span.round, span.ring);
        let latencies = Latencies::new(session);
        let mut traces: Vec<Trace> = session
            .strips
            .iter()
            .flat_map(|strip| strip.chain.iter().enumerate().map(move |(at, p)| (strip, at, p)))
            .filter(|(_, _, p)| p.ducks() && only.is_none_or(|id| id == p.id))
            .map(|(strip, at, p)| trace_of(session, &latencies, strip, at, p, focus == Some(p.id), (range, ring)))
            .collect();
        let mut places: HashMap<(StripId, Station), Vec<usize>> = HashMap::new();
        let mut planned = HashMap::new();
        for (at, trace) in traces.iter().enumerate() {
            for station in [trace.before, Station::Processor(trace.processor), Station::Key(trace.processor)] {
                places.entry((trace.strip, station)).or_default().push(at);
            }
            if !trace.planned.is_empty() && !planned.contains_key(&trace.planned) {
                let hits = planned_hits(session, &trace.planned, range.from, range.to);
                let from_start = hits.into_iter().map(|hit| (hit.at - range.from) as u32).collect();
                planned.insert(trace.planned.clone(), from_start);
            }
        }
        for trace in traces.iter_mut().filter(|t| !t.shown) {
            trace.plays = plays(whole_session, trace.strip, range);
        }
        let pair = focus.and_then(|id| {
            let (strip, at, p) = session.strips.iter().find_map(|s| {
                let at = s.chain.iter().position(|p| p.id == id && p.ducks())?;
                Some((s, at, &s.chain[at]))
            })?;
            let key = p.key.filter(|key| key.source.is_some())?;
            Some((id, Pair::new(session, &latencies, strip, at, key, length)))
        });
        if let Some((id, pair)) = &pair {
            for trace in traces.iter_mut().filter(|t| t.processor == *id) {
                trace.sound_room = pair.room();
            }
        }
        let late = latencies_most(session, &latencies, &traces);
        let whole = if traces.is_empty() { 0 } else { ring + length + late + PIECE as u64 };
        let traces = Traces { range, rate, traces, pair, places, planned };
        Run::of(Source::engine(engine, span), [ring; 2], whole, traces)
    }

    /// Frames of the stretch.
    pub(super) fn length(&self) -> usize {
        (self.heard.range.to - self.heard.range.from) as usize
    }

    /// What was recorded of the ducker in focus, and what it is about.
    pub(super) fn pair(&self, processor: ProcessorId) -> Option<(&Trace, &Pair)> {
        let (_, pair) = self.heard.pair.as_ref().filter(|(id, _)| *id == processor)?;
        Some((self.trace(processor)?, pair))
    }

    /// What the ducker in focus does to what it ducks and its key together; nothing where there is none in focus, or it has
    /// no key that is there.
    pub fn pair_figures(&self) -> Option<PairFigures> {
        let (id, pair) = self.heard.pair.as_ref()?;
        let trace = self.trace(*id)?;
        Some(pair.figures(trace, &trace.plan.settings))
    }

    /// What was recorded of a ducker.
    pub(super) fn trace(&self, processor: ProcessorId) -> Option<&Trace> {
        self.heard.traces.iter().find(|t| t.processor == processor)
    }

    /// Where the key of a ducker hits, in frames from the start of the stretch.
    pub(super) fn hits(&self, trace: &Trace) -> Vec<u32> {
        if let Some(planned) = self.heard.planned.get(&trace.planned) {
            return planned.clone();
        }
        if let Some(Round { starts: Beginnings::Beat { every }, range, .. }) = &trace.replay.round {
            // To the nearest frame, as hits are.
            let first = libm::floor(range.from as f64 / every) as u64;
            let frame = |n: u64| libm::round(n as f64 * every) as u64;
            let all = (first..).map(frame).take_while(|at| *at < range.to).filter(|at| *at >= range.from);
            return all.map(|at| (at - range.from) as u32).collect();
        }
        let heard = trace.frames.iter().skip(trace.arrives).take(self.length());
        let samples: Vec<f32> = heard.map(|[l, r]| (0.5 * (l + r)) as f32).collect();
        let Ok(audio) = Audio::new(1, samples) else { return Vec::new() };
        onsets(&audio, self.heard.rate, SENSITIVITY).into_iter().map(|at| at as u32).collect()
    }

    /// What every ducker does, in the order of strips and chains.
    pub fn read(&self) -> Vec<Ducker> {
        let of = |trace: &Trace| {
            let loud = |wave: &[f32]| wave.iter().any(|x| *x > 1e-7);
            Ducker {
                strip: trace.strip,
                processor: trace.processor,
                figures: self.figures_of(trace, &trace.reduction_db),
                // The beat is always there.
                keyed: loud(&trace.key) || !trace.keyed,
                sounds: if trace.shown { loud(&trace.sound[0]) } else { trace.plays },
            }
        };
        self.heard.traces.iter().map(of).collect()
    }

    /// The figures of a reduction that a ducker has or would have.
    pub(super) fn figures_of(&self, trace: &Trace, reduction_db: &[f32]) -> DuckFigures {
        let heard = self.of_stretch(reduction_db, trace.arrives + trace.latency);
        let read: fn(&[f32], &[u32], u32, u32) -> DuckFigures = match DuckKind::of(&trace.plan.settings) {
            Some(DuckKind::Gate | DuckKind::Expander) => opening,
            _ => figures,
        };
        read(heard, &self.hits(trace), trace.latency as u32, self.heard.rate)
    }

    /// The values of a stretch that comes so many frames late.
    fn of_stretch<'a>(&self, values: &'a [f32], late: usize) -> &'a [f32] {
        let from = (late.div_ceil(PIECE)).min(values.len());
        &values[from..(from + self.length() / PIECE).min(values.len())]
    }

    /// What is heard around a ducker, in so many parts at most; nothing where there is none such.
    pub fn waves(&self, processor: ProcessorId, parts: usize) -> Option<DuckerWaves> {
        let trace = self.trace(processor)?;
        let most = |values: &[f32], late: usize| {
            let stretch = self.of_stretch(values, late);
            let parts = parts.clamp(1, stretch.len().max(1));
            let edge = |n: usize| n * stretch.len() / parts;
            (0..parts).map(|n| stretch[edge(n)..edge(n + 1)].iter().fold(0.0, |m: f32, x| m.max(*x))).collect()
        };
        let (here, behind) = (trace.arrives, trace.arrives + trace.latency);
        let of_sound = |values: &[f32], late: usize| if trace.shown { most(values, late) } else { Vec::new() };
        Some(DuckerWaves {
            // Nothing of one without a key.
            key: if trace.keyed { most(&trace.key, here) } else { Vec::new() },
            before: of_sound(&trace.sound[0], here),
            behind: of_sound(&trace.sound[1], behind),
            reduction_db: most(&trace.reduction_db, behind),
        })
    }
}

/// The session with no more than has to be heard, so that the rest costs nothing: keys of duckers and the sound of the one
/// in focus with all before them. What arrives comes from before it alone, so it stays what it was.
fn heard_of(session: &Session, focus: Focus) -> Session {
    let links = links(session);
    let with_all_before = |mut needed: HashSet<StripId>| {
        let mut known = 0;
        while known < needed.len() {
            known = needed.len();
            let more: Vec<StripId> = links.iter().filter(|l| needed.contains(&l.to)).map(|l| l.from).collect();
            needed.extend(more);
        }
        needed
    };
    let duckers = || session.strips.iter().flat_map(|s| s.chain.iter().map(move |p| (s, p)));
    let heard = || duckers().filter(|(_, p)| focus.hears(p));
    let keys = heard().filter_map(|(_, p)| p.key).flat_map(Key::sources);
    let in_focus = duckers().filter(|(_, p)| focus.is(p)).map(|(s, _)| s.id);
    let whole = with_all_before(keys.chain(in_focus).collect());
    let ducked: HashSet<StripId> = heard().map(|(s, _)| s.id).collect();
    // A voice that is not heard may still choke one that is.
    let sets: HashSet<u8> =
        session.voices.iter().filter(|v| whole.contains(&v.channel)).filter_map(|v| v.choke_set).collect();
    let mut pruned = session.clone();
    pruned.voices.retain(|v| whole.contains(&v.channel) || v.choke_set.is_some_and(|set| sets.contains(&set)));
    for strip in pruned.strips.iter_mut().map(|s| &mut **s) {
        if !whole.contains(&strip.id) {
            strip.chain.retain(|p| ducked.contains(&strip.id) && focus.hears(p));
        }
        strip.output = strip.output.filter(|to| whole.contains(to));
        strip.sends.retain(|send| whole.contains(&send.to));
    }
    pruned
}

/// Whether anything plays in a range, or shortly before it, that comes to a strip.
fn plays(session: &Session, strip: StripId, range: LoopRange) -> bool {
    let links = links(session);
    let mut before = vec![strip];
    let mut at = 0;
    while let Some(id) = before.get(at).copied() {
        at += 1;
        for link in links.iter().filter(|l| l.to == id && !matches!(l.means, Means::Key(_))) {
            if !before.contains(&link.from) {
                before.push(link.from);
            }
        }
    }
    let from = range.from.saturating_sub(range.to - range.from);
    session.voices.iter().filter(|v| before.contains(&v.channel)).any(|v| match v.source {
        VoiceSource::Recording { .. } => true,
        VoiceSource::OneShot { .. } => !planned_hits(session, &[v.channel], from, range.to).is_empty(),
        VoiceSource::Empty => false,
    })
}

/// Frames after a hit at which everything that is kept of it has been heard.
fn latencies_most(session: &Session, latencies: &Latencies, traces: &[Trace]) -> u64 {
    let here = traces.iter().map(|t| (t.arrives + t.latency) as u64);
    here.chain(session.strips.iter().map(|s| u64::from(latencies.of(s.id).leaves))).max().unwrap_or(0)
}
