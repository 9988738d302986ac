//! What raising a return brings: main with it and without. What does not depend on the return is kept once; what lies
//! behind it, buses and main, is played over that as often as it takes.

use super::kept::Kept;
use crate::run::{BLOCK, SILENT_DB, crest_db, heard_db, squares};
use lane_analysis::LoudnessMeter;
use lane_document::routing::{Latencies, links};
use lane_document::session::{
    AssetBank, AssetRef, Audio, Family, Key, Processor, Session, Shared, Strip, StripKind, Voice, VoiceSource,
};
use lane_dsp::Settings;
use lane_engine::{Engine, LoopRange, Metering, Station};
use lane_units::{AssetId, Frame, ProcessorId, StripId, VoiceId, db_to_gain, gain_to_db};
use serde::Serialize;
use std::collections::HashSet;
use std::sync::Arc;

/// Figures of main over the stretch, before its limiter.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct MainFigures {
    /// In dBFS; nothing where it is silent, as with the rest.
    pub sample_peak_dbfs: Option<f64>,
    /// In dBTP.
    pub true_peak_dbtp: Option<f64>,
    /// Integrated loudness after ITU-R BS.1770-5.
    pub lufs: Option<f64>,
    /// Sample peak over the mean of both sides, in dB.
    pub crest_db: Option<f64>,
}

/// Main with a return and without it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Blend {
    /// The return's fader that this is of, in dB.
    pub fader_db: f64,
    /// With it.
    pub with: MainFigures,
    /// Without it.
    pub without: MainFigures,
    /// Whether main has a limiter, before which this was measured.
    pub before_limiter: bool,
}

/// The highest blend within a budget of peak.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct FoundBlend {
    /// The fader, in dB; nothing where no level of it fits.
    pub fader_db: Option<f64>,
    /// By how much the sample peak is higher there, in dB.
    pub peak_db: f64,
}

/// Where the scan begins and ends, in dB, and its step.
const SCAN: (f64, f64, f64) = (6.0, -48.0, 6.0);
/// Steps of a fader, in dB.
const FADER_STEP_DB: f64 = 0.1;

/// What lies behind a return, and what it gets from elsewhere.
#[derive(Debug, Clone)]
pub(super) struct Behind {
    /// Strips that the return reaches.
    strips: HashSet<StripId>,
    /// Kept of what comes to each of them from elsewhere.
    inputs: Vec<(StripId, usize)>,
    /// Kept of what keys of their processors hear from elsewhere.
    keys: Vec<(ProcessorId, usize)>,
    /// The recording of the return behind its chain.
    wet: usize,
    path: StripId,
}

/// Everything that sound of a strip reaches, by outputs, sends and keys.
fn reached(session: &Session, from: StripId) -> HashSet<StripId> {
    let links = links(session);
    let mut found = HashSet::new();
    let mut open = vec![from];
    while let Some(at) = open.pop() {
        for link in links.iter().filter(|l| l.from == at) {
            if found.insert(link.to) {
                open.push(link.to);
            }
        }
    }
    found
}

/// Cuts what lies behind a return off in a session that is about to be played, so that it can be played alone later; nothing
/// where that does not do, since processors there go by hits or by the song's place.
pub(super) fn cut_off(session: &mut Session, path: StripId) -> Option<HashSet<StripId>> {
    let behind = reached(session, path);
    let goes_by_time = |p: &Processor| p.settings.keeps_time() || p.key.is_some_and(Key::weighs_hits);
    if session.strips.iter().any(|s| behind.contains(&s.id) && s.chain.iter().any(goes_by_time)) {
        return None;
    }
    let from_here = |id: StripId| id == path || behind.contains(&id);
    for strip in session.strips.iter_mut().filter(|s| from_here(s.id)) {
        (strip.output, strip.offset_frames) = (None, 0);
        strip.sends.clear();
        if strip.id == path {
            continue;
        }
        // Keys are kept as they come, before what makes them fit.
        strip.chain.retain(|p| p.key.is_some_and(|key| key.sources().any(|id| !from_here(id))));
        for processor in &mut strip.chain {
            processor.key = processor.key.map(|key| Key {
                level_db: 0.0,
                high_pass_hz: 0.0,
                low_pass_hz: 0.0,
                ..key.with_sources(|id| (!from_here(id)).then_some(id))
            });
        }
    }
    Some(behind)
}

impl Behind {
    /// Opens kept in a session that was cut off.
    ///
    /// * `length` – frames from the start of the run that are kept.
    pub fn open(
        cut: &Session,
        latencies: &Latencies,
        behind: HashSet<StripId>,
        path: StripId,
        wet: usize,
        kept: &mut Kept,
        length: usize,
    ) -> Self {
        let mut found = Behind { strips: behind, inputs: Vec::new(), keys: Vec::new(), wet, path };
        for strip in cut.strips.iter().filter(|s| found.strips.contains(&s.id)) {
            let into = kept.open(length);
            kept.tap(into, strip.id, Station::Source, latencies.of(strip.id).arrives as usize);
            found.inputs.push((strip.id, into));
            for processor in &strip.chain {
                let into = kept.open(length);
                kept.tap(into, strip.id, Station::Key(processor.id), latencies.key(processor.id) as usize);
                found.keys.push((processor.id, into));
            }
        }
        found
    }
}

/// Buses and main behind a return, to be played by themselves.
#[derive(Debug, Clone)]
pub(super) struct Rest {
    session: Session,
    bank: AssetBank,
    path: StripId,
    /// Where it plays: from the first frame, or round a stretch of the song.
    round: Option<(LoopRange, u64)>,
    /// Frames before anything is measured, and those that are.
    before: usize,
    length: usize,
}

impl Rest {
    /// What was cut off and recorded, put together.
    pub fn of(session: &Session, behind: &Behind, kept: &Kept, (before, length): (usize, usize)) -> Self {
        let mut rest = session.clone();
        let mut bank = AssetBank::new();
        rest.voices.clear();
        rest.parts.clear();
        rest.assets.clear();
        rest.strips.retain(|s| behind.strips.contains(&s.id) || s.id == behind.path);
        let mut next = session.next_id;
        let mut id = || {
            next += 1;
            next
        };
        let mut voices = Vec::new();
        let mut play = |channel: StripId, recording: usize, voice: u32| {
            let frames = kept.of(recording);
            let Ok(audio) = Audio::new(2, frames.as_flattened().to_vec()) else { return };
            let asset = AssetId(format!("{voice:064x}"));
            let known = AssetRef {
                id: asset.clone(),
                name: "kept".into(),
                channels: 2,
                sample_rate: session.header.sample_rate,
                frames: frames.len() as u32,
            };
            bank.insert(asset.clone(), Arc::new(audio));
            let source = VoiceSource::Recording { asset, start_frame: 0 };
            voices.push((known, Voice::new(VoiceId(voice), "Kept".into(), Family::Music, source, channel)));
        };
        let mut made: Vec<Strip> = Vec::new();
        for (to, recording) in &behind.inputs {
            let channel = StripId(id());
            made.push(Strip::new(channel, StripKind::Channel, Default::default(), Some(*to)));
            play(channel, *recording, id());
        }
        let mut triggers = Vec::new();
        for (processor, recording) in &behind.keys {
            let channel = StripId(id());
            made.push(Strip::new(channel, StripKind::Trigger, Default::default(), None));
            play(channel, *recording, id());
            triggers.push((*processor, channel));
        }
        play(behind.path, behind.wet, id());
        for strip in rest.strips.iter_mut() {
            strip.solo = false;
            for processor in &mut strip.chain {
                let trigger = triggers.iter().find(|(id, _)| *id == processor.id).map(|(_, t)| *t);
                processor.key = processor.key.map(|key| {
                    let mut sources: Vec<StripId> = key
                        .sources()
                        .filter(|id| behind.strips.contains(id) || *id == behind.path)
                        .chain(trigger)
                        .collect();
                    sources.truncate(lane_document::session::KEY_SOURCES);
                    let mut also = [None; lane_document::session::KEY_SOURCES - 1];
                    also.iter_mut().zip(sources.iter().skip(1)).for_each(|(to, id)| *to = Some(*id));
                    Key { source: sources.first().copied(), also, ..key }
                });
            }
            if strip.id == behind.path {
                // What was kept of it is behind its trim and chain.
                let place = Strip { kind: StripKind::Channel, trim_db: 0.0, chain: Vec::new(), ..(**strip).clone() };
                *strip = Strip { polarity: lane_document::session::Polarity::Normal, mute: false, ..place }.into();
            }
        }
        rest.strips.splice(0..0, made.into_iter().map(Shared::from));
        for (asset, voice) in voices {
            rest.assets.push(asset.into());
            rest.voices.push(voice.into());
        }
        rest.next_id = next + 1;
        Rest { session: rest, bank, path: behind.path, round: None, before, length }
    }

    /// The whole session, where nothing can be left out.
    pub fn whole(
        session: &Session,
        bank: &AssetBank,
        path: StripId,
        range: LoopRange,
        (before, length): (usize, usize),
    ) -> Self {
        let mut session = session.clone();
        session.strips.iter_mut().for_each(|s| {
            if s.solo || (s.id == path && s.mute) {
                (s.solo, s.mute) = (false, s.mute && s.id != path);
            }
        });
        Rest { session, bank: bank.clone(), path, round: Some((range, before as u64)), before, length }
    }

    fn at(&self, fader_db: Option<f64>) -> Session {
        let mut session = self.session.clone();
        for strip in session.strips.iter_mut().filter(|s| s.id == self.path) {
            match fader_db {
                Some(db) => strip.fader_db = db,
                None => strip.mute = true,
            }
        }
        session
    }

    /// Plays it with the return at a level, or without it, and gives what main is before its limiter, as long as it is
    /// listened to.
    fn play(&self, fader_db: Option<f64>, mut hear: impl FnMut(&[Frame]) -> bool) {
        let session = self.at(fader_db);
        let Some(main) = session.main() else { return };
        let (station, late) = before_limiter(&session, main);
        let mut engine = Engine::new(&session, &self.bank, BLOCK, Metering::Off);
        if let Some((range, ring)) = self.round {
            engine.set_loop(Some(range));
            engine.seek(range.to - ring);
        }
        engine.play();
        let late = Latencies::new(&session).of(main.id).arrives as usize + late;
        let (from, until) = (self.before + late, self.before + late + self.length);
        let mut block = vec![[0.0; 2]; BLOCK];
        // Counted by what is heard, since the engine divides blocks as it likes.
        let mut done = 0;
        let mut listens = true;
        while listens && done < until {
            let count = (until - done).min(BLOCK);
            let mut at = done;
            engine.process_heard(&mut block[..count], &mut |strip, heard, frames| {
                if strip == main.id && heard == station {
                    let skip = from.saturating_sub(at).min(frames.len());
                    listens &= hear(&frames[skip..]);
                    at += frames.len();
                }
            });
            done += count;
        }
    }

    /// Figures of main with the return at a level, or without it.
    pub fn figures(&self, fader_db: Option<f64>) -> MainFigures {
        let mut meter = LoudnessMeter::new(self.session.header.sample_rate);
        let mut sum = 0.0;
        self.play(fader_db, |frames| {
            meter.take(frames);
            sum += squares(frames);
            true
        });
        let loudness = meter.read();
        MainFigures {
            sample_peak_dbfs: heard_db(gain_to_db(loudness.sample_peak)),
            true_peak_dbtp: heard_db(gain_to_db(loudness.true_peak)),
            lufs: heard_db(loudness.integrated_lufs),
            crest_db: crest_db(loudness.sample_peak, sum, self.length as u64),
        }
    }

    /// What raising the return to a level brings.
    pub fn blend(&self, fader_db: f64) -> Blend {
        let before_limiter =
            self.session.main().is_some_and(|main| before_limiter(&self.session, main).0 != Station::Out);
        let without = self.figures(None);
        let with = if fader_db <= lane_units::OFF_DB { without } else { self.figures(Some(fader_db)) };
        Blend { fader_db, with, without, before_limiter }
    }

    /// The sample peak of main in dBFS with the return at a level, or without it; nothing where it is over a bound.
    fn peak_within(&self, fader_db: Option<f64>, bound_db: f64) -> Option<f64> {
        let bound = db_to_gain(bound_db);
        let mut most: f64 = 0.0;
        self.play(fader_db, |frames| {
            most = frames.as_flattened().iter().fold(most, |most, x| most.max(x.abs()));
            most <= bound
        });
        (most <= bound).then(|| gain_to_db(most))
    }

    /// The highest blend at which the sample peak of main is higher by no more than a budget.
    ///
    /// Cost: what lies behind the return over the stretch some twenty times at most, but of what is too high only until it
    /// is.
    pub fn within(&self, budget_db: f64) -> FoundBlend {
        let peak = |db: f64, bound: f64| self.peak_within(Some(db), bound);
        let without = self.peak_within(None, f64::INFINITY).unwrap_or(SILENT_DB);
        let bound = without + budget_db;
        let (from, to, step) = SCAN;
        let mut at = from;
        let found = loop {
            if at < to {
                let over = peak(to, f64::INFINITY).unwrap_or(SILENT_DB) - without;
                return FoundBlend { fader_db: None, peak_db: over };
            }
            if let Some(found) = peak(at, bound) {
                break found;
            }
            at -= step;
        };
        if at == from {
            return FoundBlend { fader_db: Some(at), peak_db: found - without };
        }
        let (mut low, mut high, mut highest) = (at, at + step, found);
        while high - low > FADER_STEP_DB * 1.5 {
            let middle = libm::round(0.5 * (low + high) / FADER_STEP_DB) * FADER_STEP_DB;
            match peak(middle, bound) {
                Some(found) => (low, highest) = (middle, found),
                None => high = middle,
            }
        }
        FoundBlend { fader_db: Some(libm::round(low * 10.0) / 10.0), peak_db: highest - without }
    }
}

/// The station of main before its first limiter that is on, its end where it has none, and how much later than main's input
/// that is.
fn before_limiter(session: &Session, main: &Strip) -> (Station, usize) {
    let rate = session.header.sample_rate;
    let late = |until: usize| main.chain[..until].iter().map(|p| p.settings.latency(rate)).sum();
    let limits = |p: &Processor| p.on && matches!(p.settings, Settings::Limiter(_));
    match main.chain.iter().position(limits) {
        None => (Station::Out, late(main.chain.len())),
        Some(0) => (Station::Trimmed, 0),
        Some(at) => (Station::Processor(main.chain[at - 1].id), late(at)),
    }
}

/// Where a send or a key of a tap hears a strip alone: nothing of its fader.
pub(super) fn after_chain(strip: &Strip) -> Station {
    strip.chain.last().map_or(Station::Trimmed, |p| Station::Processor(p.id))
}

/// Whether anything of a strip comes to a return; a muted one sends nothing.
pub(super) fn feeds(strip: &Strip, path: StripId) -> bool {
    !strip.mute && strip.send_to(path).is_some_and(|send| !send.mute && send.level_db > lane_units::OFF_DB)
}
