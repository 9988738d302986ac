//! The run: a stretch is played once, and what returns, lanes and the return that is looked at need is kept.

use super::MOST_APART_MS;
use super::align::{Alignment, align};
use super::blend::{Behind, Blend, FoundBlend, Rest, after_chain, cut_off, feeds};
use super::comb::{Comb, comb};
use super::kept::Kept;
use super::press::{Press, PressGoal, PressSolved, Pressed};
use crate::run::{BLOCK, Listener, Run, SENSITIVITY, Source, Span};
use lane_analysis::onsets;
use lane_document::routing::{Latencies, Means, links};
use lane_document::session::{AssetBank, Audio, Session, Strip, StripKind, VoiceSource};
use lane_dsp::Settings;
use lane_engine::{Engine, LoopRange, Metering, Station, planned_hits};
use lane_units::{Frame, OFF_DB, ProcessorId, StripId};
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// Sounds are held against each other over the first of the stretch, in s.
const PAIR_S: u64 = 20;
/// Returns that are held against what feeds them, and lanes against a lane, at most.
const PAIRS: usize = 24;
/// Hits nearer to each other are one, in ms.
const ONE_HIT_MS: f64 = 30.0;
/// What shall be found out.
#[derive(Debug, Clone, Default, PartialEq, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct PathsAsked {
    /// The return, the bus or main that is looked at.
    pub path: Option<StripId>,
    /// Lanes, returns or buses that are held against the first of them.
    pub lanes: Vec<StripId>,
}

/// How a strip lies against another sound.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct PathReading {
    /// The strip.
    pub strip: StripId,
    /// How it lies.
    pub alignment: Alignment,
}

/// What was found of the return, the bus or main that is looked at.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct ReturnBench {
    /// Which it is.
    pub strip: StripId,
    /// What raising it brings, of a return.
    pub blend: Option<Blend>,
    /// What its first compressor does.
    pub press: Option<Press>,
    /// What a return does to the spectrum of what feeds it, at its level; at 0 dB while it is off.
    pub comb: Option<Comb>,
}

/// Two sounds that are held against each other.
struct Pair {
    strip: StripId,
    first: usize,
    second: usize,
    /// Whether the second is a room or echoes.
    space: bool,
}

/// The compressor of the return that is looked at.
struct Pressing {
    processor: ProcessorId,
    plan: lane_dsp::SlotPlan,
    input: usize,
    key: Option<usize>,
    /// Those that are planned; once all is played, those of kept too.
    hits: Vec<u32>,
    /// Whether kept feed it, whose hits have to be heard.
    listens: bool,
}

struct Focus {
    path: StripId,
    fader_db: f64,
    /// Whether it is one that is blended in.
    blends: bool,
    behind: Option<Behind>,
    press: Option<Pressing>,
}

/// What is heard of parallel paths.
pub struct Heard {
    session: Session,
    bank: AssetBank,
    range: LoopRange,
    asked: PathsAsked,
    kept: Kept,
    returns: Vec<Pair>,
    lanes: Vec<Pair>,
    focus: Option<Focus>,
    /// Frames before the stretch, and of the stretch in whole rounds.
    before: usize,
    length: usize,
}

/// A run on its way.
pub type Paths = Run<Heard>;

impl Listener for Heard {
    const STATIONS: bool = true;

    fn station(&mut self, strip: StripId, station: Station, frames: &[Frame], _kept: bool) {
        self.kept.hear(strip, station, frames);
    }

    /// Adds the hits of recordings to those that are planned, as they arrive at the compressor that is looked at.
    fn over(&mut self) {
        let Some(press) = self.focus.as_mut().and_then(|f| f.press.as_mut()).filter(|p| p.listens) else { return };
        press.listens = false;
        let rate = self.session.header.sample_rate;
        let round = self.before..self.before + (self.range.to - self.range.from) as usize;
        let sound = self.kept.of(press.input).get(round).unwrap_or(&[]);
        let Ok(audio) = Audio::new(2, sound.as_flattened().to_vec()) else { return };
        press.hits.extend(onsets(&audio, rate, SENSITIVITY).iter().map(|at| *at as u32));
        press.hits = apart(std::mem::take(&mut press.hits), rate);
    }
}

impl Paths {
    /// * `range` – the stretch, not empty.
    pub fn new(session: &Session, bank: &AssetBank, range: LoopRange, asked: &PathsAsked) -> Self {
        let span = Span::new(range, session.header.sample_rate);
        let rate = u64::from(session.header.sample_rate);
        let (before, length) = (span.ring as usize, span.length as usize);
        let pair_length = length.min((PAIR_S * rate) as usize);
        let path = asked.path.filter(|id| session.strip(*id).is_some());
        let blends = path.and_then(|id| session.strip(id)).is_some_and(|s| s.kind == StripKind::Return);
        let mut played = session.clone();
        // Figures are of everything, not of what is soloed now.
        played.strips.iter_mut().filter(|s| s.solo).for_each(|s| s.solo = false);
        let cut = path.filter(|_| blends).and_then(|path| cut_off(&mut played, path));
        let latencies = Latencies::new(&played);
        let mut kept = Kept::default();
        let late = |strip: &Strip, station: Station| latency_at(&latencies, strip, station, rate as u32);
        let changed = |id: StripId| cut.as_ref().is_some_and(|behind| behind.contains(&id));
        let mut returns = Vec::new();
        for strip in played.strips.iter().filter(|s| s.kind == StripKind::Return).take(PAIRS) {
            let feeders: Vec<&Strip> = played.strips.iter().map(|s| &**s).filter(|s| feeds(s, strip.id)).collect();
            if feeders.is_empty() || changed(strip.id) || feeders.iter().any(|f| changed(f.id)) {
                continue;
            }
            let (first, second) = (kept.open(pair_length), kept.open(pair_length));
            for feeder in feeders {
                kept.tap(first, feeder.id, Station::Out, before + late(feeder, Station::Out));
            }
            let station = after_chain(strip);
            // The cut return keeps its chain; its offset is that of the session.
            let offset = session.strip(strip.id).map_or(0, |s| s.offset_frames) - strip.offset_frames;
            let skip = (before + late(strip, station)) as i64 - i64::from(offset);
            kept.tap(second, strip.id, station, skip.max(0) as usize);
            returns.push(Pair { strip: strip.id, first, second, space: makes_space(strip) });
        }
        let mut lanes = Vec::new();
        let mut compared = asked.lanes.iter().filter_map(|id| played.strip(*id)).take(PAIRS);
        if let Some(reference) = compared.next() {
            let first = kept.open(pair_length);
            kept.tap(first, reference.id, after_chain(reference), before + late(reference, after_chain(reference)));
            for strip in compared.filter(|s| s.id != reference.id) {
                let second = kept.open(pair_length);
                kept.tap(second, strip.id, after_chain(strip), before + late(strip, after_chain(strip)));
                lanes.push(Pair { strip: strip.id, first, second, space: makes_space(strip) });
            }
        }
        let focus = path.and_then(|path| {
            let strip = played.strip(path)?;
            let whole = before + length;
            let press =
                strip.chain.iter().position(|p| p.on && matches!(p.settings, Settings::Compressor(_))).map(|at| {
                    let processor = &strip.chain[at];
                    let station = at.checked_sub(1).map_or(Station::Trimmed, |n| Station::Processor(strip.chain[n].id));
                    let input = kept.open(whole);
                    let here = latencies.of(path).arrives as usize
                        + strip.chain[..at].iter().map(|p| p.settings.latency(rate as u32)).sum::<usize>();
                    kept.tap(input, path, station, here);
                    let key = processor.key.filter(|k| k.source.is_some()).map(|_| {
                        let key = kept.open(whole);
                        kept.tap(key, path, Station::Key(processor.id), here);
                        key
                    });
                    let before = heard_at(session, path);
                    Pressing {
                        processor: processor.id,
                        plan: processor.slot(&session.header),
                        input,
                        key,
                        hits: strokes(session, &before, range),
                        listens: before.iter().any(|id| plays_kept(session, *id)),
                    }
                });
            let behind = cut.map(|cut| {
                let wet = kept.open(whole);
                let chain: usize = strip.chain.iter().map(|p| p.settings.latency(rate as u32)).sum();
                kept.tap(wet, path, after_chain(strip), latencies.of(path).arrives as usize + chain);
                Behind::open(&played, &latencies, cut, path, wet, &mut kept, whole)
            });
            Some(Focus { path, fader_db: session.strip(path)?.fader_db, blends, behind, press })
        });
        let engine = Engine::new(&played, bank, BLOCK, Metering::Off);
        let whole = kept.until() as u64;
        let (session, bank, asked) = (session.clone(), bank.clone(), asked.clone());
        let heard = Heard { session, bank, range, asked, kept, returns, lanes, focus, before, length };
        Run::of(Source::engine(engine, span), [span.ring; 2], whole, heard)
    }

    fn read(&self, pairs: &[Pair]) -> Vec<PathReading> {
        let most = (MOST_APART_MS / 1000.0 * f64::from(self.heard.session.header.sample_rate)) as usize;
        let of = |pair: &Pair| {
            let found = align(self.heard.kept.of(pair.first), self.heard.kept.of(pair.second), most);
            PathReading { strip: pair.strip, alignment: if pair.space { found.of_space() } else { found } }
        };
        pairs.iter().map(of).collect()
    }

    /// How each return lies against what feeds it; those that nothing feeds are left out.
    pub fn returns(&self) -> Vec<PathReading> {
        self.read(&self.heard.returns)
    }

    /// How lanes lie against the first that was asked for.
    pub fn lanes(&self) -> Vec<PathReading> {
        self.read(&self.heard.lanes)
    }

    /// What the first two lanes that were asked for do to each other, as loud as they are in the mix.
    pub fn lanes_comb(&self) -> Option<Comb> {
        let reference = *self.heard.asked.lanes.first()?;
        let pair = self.heard.lanes.first()?;
        let fader = |id| self.heard.session.strip(id).map_or(0.0, |s| s.fader_db);
        let (own, other) = (fader(reference), fader(pair.strip));
        let gain_db = if own <= OFF_DB || other <= OFF_DB { 0.0 } else { other - own };
        Some(self.comb(pair, gain_db))
    }

    fn comb(&self, pair: &Pair, gain_db: f64) -> Comb {
        let (first, second) = (self.heard.kept.of(pair.first), self.heard.kept.of(pair.second));
        let most = (MOST_APART_MS / 1000.0 * f64::from(self.heard.session.header.sample_rate)) as usize;
        comb(first, second, gain_db, &align(first, second, most), self.heard.session.header.sample_rate)
    }

    fn rest(&self) -> Option<Rest> {
        let focus = self.heard.focus.as_ref().filter(|f| f.blends)?;
        let span = (self.heard.before, self.heard.length);
        Some(match &focus.behind {
            Some(behind) => Rest::of(&self.heard.session, behind, &self.heard.kept, span),
            None => Rest::whole(&self.heard.session, &self.heard.bank, focus.path, self.heard.range, span),
        })
    }

    fn pressed(&self) -> Option<Pressed<'_>> {
        let press = self.heard.focus.as_ref()?.press.as_ref()?;
        Some(Pressed {
            processor: press.processor,
            plan: press.plan.clone(),
            input: self.heard.kept.of(press.input),
            key: press.key.map(|key| self.heard.kept.of(key)),
            before: self.heard.before,
            hits: press.hits.clone(),
            sample_rate: self.heard.session.header.sample_rate,
        })
    }

    /// What was found of the return that is looked at.
    pub fn bench(&self) -> Option<ReturnBench> {
        let focus = self.heard.focus.as_ref()?;
        let pair = self.heard.returns.iter().find(|p| p.strip == focus.path);
        let level = if focus.fader_db <= OFF_DB { 0.0 } else { focus.fader_db };
        Some(ReturnBench {
            strip: focus.path,
            blend: self.rest().map(|rest| rest.blend(focus.fader_db)),
            press: self.pressed().map(|pressed| pressed.read()),
            comb: pair.filter(|p| !p.space).map(|pair| self.comb(pair, level)),
        })
    }

    /// Settings by which the first compressor of the return that is looked at reaches a goal.
    pub fn solve(&self, goal: PressGoal) -> Option<PressSolved> {
        self.pressed()?.solve(goal)
    }

    /// What raising the return that is looked at to a level brings, all else as it was heard.
    ///
    /// * `fader_db` – -100 (off) to 12 dB.
    pub fn blend_at(&self, fader_db: f64) -> Option<Blend> {
        let (least, most) = lane_document::session::limits::FADER_DB;
        Some(self.rest()?.blend(fader_db.clamp(least, most)))
    }

    /// The highest blend of the return that is looked at within a budget of peak.
    pub fn within(&self, budget_db: f64) -> Option<FoundBlend> {
        Some(self.rest()?.within(budget_db))
    }
}

/// Frames by which sound at a station of a strip is late; behind its chain as late as it counts, with its offset.
fn latency_at(latencies: &Latencies, strip: &Strip, station: Station, rate: u32) -> usize {
    let found = latencies.of(strip.id);
    let until = match station {
        Station::Source | Station::Trimmed => 0,
        Station::Processor(id) => strip.chain.iter().position(|p| p.id == id).map_or(0, |at| at + 1),
        Station::Key(_) | Station::Out => strip.chain.len(),
    };
    if until == strip.chain.len() {
        return found.leaves as usize;
    }
    found.arrives as usize + strip.chain[..until].iter().map(|p| p.settings.latency(rate)).sum::<usize>()
}

/// Whether a strip makes a room or echoes of what it gets.
fn makes_space(strip: &Strip) -> bool {
    let space = |p: &lane_document::session::Processor| matches!(p.settings, Settings::Reverb(_) | Settings::Delay(_));
    strip.chain.iter().any(|p| p.on && p.mix_percent > 0.0 && space(p))
}

/// The strips that sound at one, with itself.
fn heard_at(session: &Session, strip: StripId) -> Vec<StripId> {
    let links = links(session);
    let (mut before, mut at) = (vec![strip], 0);
    let mut known = HashSet::from([strip]);
    while let Some(id) = before.get(at).copied() {
        at += 1;
        let sends =
            |from: StripId| session.strip(from).is_some_and(|s| feeds(s, id) || (s.output == Some(id) && !s.mute));
        for link in links.iter().filter(|l| l.to == id && !matches!(l.means, Means::Key(_))) {
            if sends(link.from) && known.insert(link.from) {
                before.push(link.from);
            }
        }
    }
    before
}

fn plays_kept(session: &Session, strip: StripId) -> bool {
    session.voices_on(strip).any(|v| matches!(v.source, VoiceSource::Recording { .. }))
}

/// Where strips hit by plan, in frames from the start of a stretch.
fn strokes(session: &Session, strips: &[StripId], range: LoopRange) -> Vec<u32> {
    let planned = planned_hits(session, strips, range.from, range.to);
    apart(planned.iter().map(|hit| (hit.at - range.from) as u32).collect(), session.header.sample_rate)
}

/// Hits in order, without those that are as good as together with one before.
fn apart(mut hits: Vec<u32>, sample_rate: u32) -> Vec<u32> {
    let near = MS * ONE_HIT_MS * f64::from(sample_rate);
    hits.sort_unstable();
    let mut found: Vec<u32> = Vec::with_capacity(hits.len());
    for at in hits {
        if found.last().is_none_or(|last| f64::from(at - last) > near) {
            found.push(at);
        }
    }
    found
}

/// Seconds of a millisecond.
const MS: f64 = 1e-3;
