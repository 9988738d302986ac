//! The walk from a lane to main, and the first thing on it that stops the sound.

use super::gain::{WayGain, later_by, way_gain};
use super::repair::{Repair, turn_back, undelayed_way};
use super::twins::{Twins, twins_of};
use crate::edit::{Edit, ProcessorChange, SetOutput, SetProcessor, SetSend, SetSource, SetStrips, StripChange};
use crate::routing::{Hearing, Latencies, Means, Way, ways};
use crate::session::{Feel, Layer, SendTap, Session, Song, Strip, StripKind, StripSend, Voice, VoiceSource};
use lane_dsp::Settings;
use lane_units::{AssetId, OFF_DB, ProcessorId, StripId, VoiceId, gain_to_db};
use serde::{Deserialize, Serialize};

/// What is asked about.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct TraceQuestion {
    /// A lane's voice; none for the strip alone.
    pub voice: Option<VoiceId>,
    /// One layer of it, counted from 0.
    pub layer: Option<u8>,
    /// The strip whose ways are asked for.
    pub strip: StripId,
    /// Bars in which hits are looked for, counted from 0.
    pub from_bar: u32,
    /// Bars of the loop.
    pub bars: u32,
    /// Audio that is not there any more.
    pub missing: Vec<AssetId>,
    /// Audio that could not be had yet, and is asked for again.
    #[serde(default)]
    pub late: Vec<AssetId>,
    /// Gates that were seen shut all along while sound came to them.
    pub shut: Vec<ProcessorId>,
}

/// One strip of a way.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct TraceStep {
    /// The strip.
    pub strip: StripId,
    /// Its name.
    pub name: String,
    /// Whether it is reached by a send.
    pub by_send: bool,
    /// Why nothing passes here.
    pub stop: Option<String>,
    /// Frames after a hit at which its sound is at this strip's input.
    pub arrives: u32,
    /// And behind its chain.
    pub leaves: u32,
}

/// One way to main.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct TraceWay {
    /// Strip after strip, from the lane on.
    pub steps: Vec<TraceStep>,
    /// What a small steady sound gains on it; nothing where it is stopped.
    pub gain_db: Option<f64>,
}

/// A lane's ways to main.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Trace {
    /// The whole in a sentence or two.
    pub sentence: String,
    /// Whether nothing of it is heard.
    pub silent: bool,
    /// Whether that is meant.
    pub on_purpose: bool,
    /// The first repair of any way that is stopped.
    pub repair: Option<Repair>,
    /// The way along outputs first, then those that begin with a send.
    pub ways: Vec<TraceWay>,
}

struct Stop {
    /// What follows "Snare is silent: ".
    reason: String,
    repair: Option<Repair>,
}

fn stop(reason: impl Into<String>, repair: impl Into<String>, edit: Edit) -> Option<Stop> {
    Some(Stop { reason: reason.into(), repair: Some(Repair { name: repair.into(), edit }) })
}

fn plain(reason: impl Into<String>) -> Option<Stop> {
    Some(Stop { reason: reason.into(), repair: None })
}

/// Walks from a voice, or from a strip, to main.
pub fn trace(session: &Session, asked: &TraceQuestion) -> Trace {
    let voice = asked.voice.and_then(|v| session.voice(v));
    let mut name = voice.map_or_else(|| session.strip_name(asked.strip), |v| v.name.to_string());
    if let Some(layer) = asked.layer {
        name = format!("Layer {} of {name}", layer + 1);
    }
    let walker = Walker { session, asked, hearing: Hearing::new(session), origin: asked.strip };
    let latencies = Latencies::new(session);
    let found = ways(session, asked.strip);
    let walked: Vec<Walked> = found.into_iter().map(|way| walker.walk(way, &latencies)).collect();
    let source = voice.and_then(|v| source_stop(session, v, asked));
    let told = tell(&walker, &name, source, &walked);
    Trace {
        sentence: told.sentence,
        silent: told.silent,
        on_purpose: told.on_purpose,
        repair: told.repair,
        ways: walked.into_iter().map(|w| w.shown).collect(),
    }
}

struct Told {
    sentence: String,
    silent: bool,
    on_purpose: bool,
    repair: Option<Repair>,
}

fn tell(walker: &Walker, name: &str, source: Option<Stop>, walked: &[Walked]) -> Told {
    let session = walker.session;
    let silent = |stop: &Stop| Told {
        sentence: format!("{name} is silent: {}.", stop.reason),
        silent: true,
        on_purpose: false,
        repair: stop.repair.clone(),
    };
    if let Some(stop) = source {
        return silent(&stop);
    }
    let strip = session.strip(walker.asked.strip);
    if strip.is_some_and(|s| s.kind == StripKind::Trigger) {
        let keyed = session.keys().filter(|(_, _, key)| key.sources().any(|id| id == walker.asked.strip));
        let names: Vec<String> = keyed
            .map(|(s, p, _)| format!("the {} of {}", p.settings.name().to_lowercase(), session.strip_name(s.id)))
            .collect();
        let keys =
            if names.is_empty() { "It keys nothing yet".into() } else { format!("It keys {}", names.join(", ")) };
        return Told {
            sentence: format!("{name} is silent on purpose: it is a trigger. {keys}."),
            silent: true,
            on_purpose: true,
            repair: None,
        };
    }
    let open: Vec<&Walked> = walked.iter().filter(|w| w.stop.is_none()).collect();
    let stopped = walked.iter().find_map(|w| w.stop.as_ref());
    match (open.as_slice(), stopped) {
        ([], Some(stop)) => silent(stop),
        ([], None) => silent(&Stop { reason: "it has no way to main".into(), repair: None }),
        (open, _) if let Some(stop) = cancelled(session, open) => silent(&stop),
        (_, _) if let Some(stop) = lost(walker) => silent(&stop),
        ([one], stop) => {
            let mut sentence = format!("{name} {}.", goes(session, &one.way));
            if let Some(stop) = stop {
                sentence.push_str(&format!(" Another way of it is stopped: {}.", stop.reason));
            }
            let repair = stop.and_then(|s| s.repair.clone());
            let (harm, mend) = beside(walker);
            sentence.push_str(&harm);
            Told { sentence, silent: false, on_purpose: false, repair: repair.or(mend) }
        }
        ([first, rest @ ..], _) => {
            let mut sentence = format!("{name} {}.", goes(session, &first.way));
            for other in rest {
                sentence.push_str(&format!(" It also {}", goes(session, &other.way)));
                let apart = other.figures.delay - first.figures.delay;
                if apart != 0.0 {
                    sentence.push_str(&format!(", {}", later_by(session, apart)));
                }
                sentence.push('.');
            }
            let late = rest.iter().find(|w| w.figures.late_against(&first.figures) != 0.0);
            match late {
                Some(_) => sentence.push_str(" Together they comb."),
                None => sentence.push_str(&together(&open)),
            }
            let (harm, mend) = beside(walker);
            sentence.push_str(&harm);
            let repair = late.and_then(|other| {
                let (later, sooner) =
                    if other.figures.delay > first.figures.delay { (*other, *first) } else { (*first, *other) };
                let (name, edit) = undelayed_way(session, &later.way, &sooner.way)?;
                Some(Repair { name, edit })
            });
            Told { sentence, silent: false, on_purpose: false, repair: repair.or(mend) }
        }
    }
}

/// What several ways make of a steady sound.
fn together(open: &[&Walked]) -> String {
    let sum: f64 = open.iter().map(|w| w.figures.gain).sum();
    let most = open.iter().map(|w| w.figures.gain.abs()).fold(0.0, f64::max);
    let db = gain_to_db(sum / most).max(-99.0);
    let sure = open.iter().all(|w| w.figures.plain);
    let (about, rest) = if sure { ("", "") } else { ("about ", ", as long as nothing is reduced") };
    if db >= 0.0 {
        format!(" Together they come {about}{db:.1} dB louder than the loudest alone{rest}.")
    } else {
        format!(" Together they cancel by {about}{:.1} dB{rest}.", -db)
    }
}

/// Another lane that leaves nothing of this one.
fn lost(walker: &Walker) -> Option<Stop> {
    let (session, voice) = (walker.session, walker.asked.voice?);
    let pairs = twins_of(session, voice);
    let pair = pairs.iter().find(|p| p.cancel_completely())?;
    let (name, edit) = pair.repair(session);
    let other = &pair.other(voice).name;
    stop(format!("{other} plays the same sound at the same time, {}", pair.effect(session)), name, edit)
}

/// What other lanes of the same sound take from this one.
fn beside(walker: &Walker) -> (String, Option<Repair>) {
    let session = walker.session;
    let Some(voice) = walker.asked.voice else { return (String::new(), None) };
    let pairs = twins_of(session, voice);
    let mine: Vec<_> = pairs.iter().filter(|p| p.harm()).collect();
    let told =
        |p: &&Twins| format!(" {} plays the same sound at the same time, {}.", p.other(voice).name, p.effect(session));
    let repair = mine.first().map(|p| p.repair(session)).map(|(name, edit)| Repair { name, edit });
    (mine.iter().map(told).collect(), repair)
}

/// Ways that leave nothing of each other.
fn cancelled(session: &Session, open: &[&Walked]) -> Option<Stop> {
    let [first, second] = open else { return None };
    let (one, other) = (&first.figures, &second.figures);
    let rest = (one.gain + other.gain).abs() / one.gain.abs().max(other.gain.abs());
    if !(one.plain && other.plain && one.delay == other.delay && rest < 0.03) {
        return None;
    }
    let reason = format!("it {}, and {}, and the two cancel", goes(session, &first.way), goes(session, &second.way));
    let only = |a: &Way, b: &Way| a.strips.iter().copied().filter(|id| !b.strips.contains(id)).collect::<Vec<_>>();
    let mut own = only(&second.way, &first.way);
    own.extend(only(&first.way, &second.way));
    let (name, edit) = own.iter().find_map(|id| turn_back(session.strip(*id)?, session))?;
    stop(reason, name, edit)
}

/// "goes to Tops, then Main", sends called so.
pub(super) fn goes(session: &Session, way: &Way) -> String {
    let names: Vec<String> = way.strips.iter().skip(1).map(|id| session.strip_name(*id)).collect();
    match (names.as_slice(), way.means.first()) {
        ([], _) => "is heard".into(),
        ([first, rest @ ..], Some(Means::Send)) => {
            let rest: String = rest.iter().map(|n| format!(", then {n}")).collect();
            format!("goes by a send to {first}{rest}")
        }
        (names, _) => format!("goes to {}", names.join(", then ")),
    }
}

struct Walked {
    way: Way,
    shown: TraceWay,
    stop: Option<Stop>,
    figures: WayGain,
}

struct Walker<'a> {
    session: &'a Session,
    asked: &'a TraceQuestion,
    hearing: Hearing,
    origin: StripId,
}

impl Walker<'_> {
    fn walk(&self, way: Way, latencies: &Latencies) -> Walked {
        let mut first = None;
        let mut steps = Vec::with_capacity(way.strips.len());
        for (at, id) in way.strips.iter().enumerate() {
            let Some(strip) = self.session.strip(*id) else { continue };
            let send = match way.means.get(at) {
                Some(Means::Send) => way.strips.get(at + 1).and_then(|to| strip.send_to(*to)),
                _ => None,
            };
            let found = self.strip_stop(strip, way.strips.get(at + 1).copied(), send);
            let latency = latencies.of(*id);
            steps.push(TraceStep {
                strip: *id,
                name: self.session.strip_name(*id),
                by_send: at > 0 && way.means[at - 1] == Means::Send,
                stop: found.as_ref().map(|s| s.reason.clone()),
                arrives: latency.arrives,
                leaves: latency.leaves,
            });
            first = first.or(found);
        }
        let figures = way_gain(self.session, &way);
        let gain_db =
            (first.is_none() && figures.gain != 0.0).then(|| libm::round(gain_to_db(figures.gain) * 100.0) / 100.0);
        Walked { way, shown: TraceWay { steps, gain_db }, stop: first, figures }
    }

    /// Why nothing comes out of a strip on the way to the next.
    fn strip_stop(&self, strip: &Strip, next: Option<StripId>, send: Option<&StripSend>) -> Option<Stop> {
        let session = self.session;
        let name = session.strip_name(strip.id);
        let whose = match strip.kind {
            _ if strip.id == self.origin => "it".to_owned(),
            StripKind::Main => "main".to_owned(),
            StripKind::Return => format!("its return {name}"),
            _ => format!("its bus {name}"),
        };
        let set = |change| Edit::SetStrips(SetStrips { strips: vec![strip.id], change });
        if strip.mute {
            return stop(format!("{whose} is muted"), format!("Unmute {name}"), set(StripChange::Mute(false)));
        }
        if strip.trim_db <= OFF_DB {
            let fix = format!("Trim {name} to 0 dB");
            return stop(format!("the trim of {whose} is off"), fix, set(StripChange::TrimDb(0.0)));
        }
        if let Some(found) = self.chain_stop(strip, &whose) {
            return Some(found);
        }
        let passes_fader = send.is_none_or(|s| s.tap == SendTap::PostFader);
        if passes_fader && strip.fader_db <= OFF_DB {
            let fix = format!("Bring {name} to 0 dB");
            return stop(format!("the fader of {whose} is off"), fix, set(StripChange::FaderDb(0.0)));
        }
        if let Some(send) = send {
            let to = session.strip_name(send.to);
            let with = |send: StripSend| Edit::SetSend(SetSend { strips: vec![strip.id], send });
            if send.mute {
                let edit = with(StripSend { mute: false, ..*send });
                return stop(format!("the send of {whose} to {to} is muted"), "Unmute the send", edit);
            }
            if send.level_db <= OFF_DB {
                let edit = with(StripSend { level_db: 0.0, ..*send });
                return stop(format!("the send of {whose} to {to} is off"), "Bring the send to 0 dB", edit);
            }
        }
        let shut_out = !self.hearing.wanted(strip.id) || next.is_some_and(|to| !self.hearing.open(strip.id, to));
        if shut_out {
            let soloed: Vec<StripId> = session.strips.iter().filter(|s| s.solo).map(|s| s.id).collect();
            let names: Vec<String> = soloed.iter().map(|id| session.strip_name(*id)).collect();
            let edit = Edit::SetStrips(SetStrips { strips: soloed, change: StripChange::Solo(false) });
            return stop(format!("solo is on at {}", names.join(", ")), "Take every solo off", edit);
        }
        if next.is_none() && strip.kind != StripKind::Main {
            let to = Some(session.mix_bus).filter(|to| *to != strip.id).or_else(|| session.main().map(|m| m.id))?;
            let fix = format!("Send {name} to {}", session.strip_name(to));
            let edit = Edit::SetOutput(SetOutput { strips: vec![strip.id], output: Some(to) });
            return stop(format!("{whose} goes to nothing"), fix, edit);
        }
        None
    }

    /// A processor that lets nothing through.
    fn chain_stop(&self, strip: &Strip, whose: &str) -> Option<Stop> {
        for processor in strip.chain.iter().filter(|p| p.on && p.mix_percent >= 100.0) {
            let off = |reason: String| {
                let change = ProcessorChange::On(false);
                let edit = Edit::SetProcessor(SetProcessor { strip: strip.id, processor: processor.id, change });
                stop(reason, format!("Switch the {} off", processor.settings.name().to_lowercase()), edit)
            };
            match &processor.settings {
                Settings::StereoImage(image) if image.gain_db <= OFF_DB => {
                    return off(format!("the gain of a stereo image of {whose} is off"));
                }
                Settings::Gate(_) if self.asked.shut.contains(&processor.id) => {
                    return off(format!("the gate of {whose} never opens"));
                }
                _ => {}
            }
        }
        None
    }
}

/// Why a voice, or one layer of it, gives nothing to its channel.
fn source_stop(session: &Session, voice: &Voice, asked: &TraceQuestion) -> Option<Stop> {
    let song = Song::new(session);
    let bar = f64::from(song.bar_ticks());
    let (from, to) = (f64::from(asked.from_bar) * bar, f64::from(asked.from_bar + asked.bars) * bar);
    let absent = |id: &AssetId| asked.missing.contains(id) || asked.late.contains(id);
    let gone = |id: &AssetId| {
        let name = session.asset(id).map_or_else(|| "its sample".to_owned(), |a| a.name.to_string());
        if asked.missing.contains(id) {
            plain(format!("its sample {name} is missing; take another, or bring it in again"))
        } else {
            plain(format!("its sample {name} is not loaded yet; it is fetched again by itself"))
        }
    };
    match &voice.source {
        VoiceSource::Empty => plain("it has no sound yet; take one from the library or drop one"),
        VoiceSource::OneShot { layers, hold } => {
            let chosen = |at: usize| asked.layer.is_none_or(|layer| usize::from(layer) == at);
            let mine = || layers.iter().enumerate().filter(|(at, _)| chosen(*at)).map(|(_, layer)| layer);
            if mine().next().is_none() {
                return plain("it has no layer");
            }
            if mine().all(|l| l.gain_db <= OFF_DB) {
                let with_level = |(at, l): (usize, &Layer)| {
                    if chosen(at) { Layer { gain_db: 0.0, ..l.clone() } } else { l.clone() }
                };
                let source =
                    VoiceSource::OneShot { layers: layers.iter().enumerate().map(with_level).collect(), hold: *hold };
                let edit = Edit::SetSource(SetSource { voice: voice.id, source, assets: vec![] });
                return match asked.layer {
                    Some(_) => stop("its gain is off", "Bring it to 0 dB", edit),
                    None => stop("all its layers are off", "Bring its layers to 0 dB", edit),
                };
            }
            if mine().all(|l| absent(&l.asset)) {
                return gone(&mine().next()?.asset);
            }
            hits_stop(session, &song, voice, asked, (from, to))
        }
        VoiceSource::Recording { asset, .. } if absent(asset) => gone(asset),
        VoiceSource::Recording { asset, start_frame } => {
            let start = f64::from(*start_frame) / song.frames_per_tick();
            let length = session.asset(asset).map_or(0.0, |a| f64::from(a.frames) / song.frames_per_tick());
            if start < to && start + length > from { None } else { plain("its recording does not run in these bars") }
        }
    }
}

fn hits_stop(
    session: &Session,
    song: &Song,
    voice: &Voice,
    asked: &TraceQuestion,
    (from, to): (f64, f64),
) -> Option<Stop> {
    let mut hits = 0;
    song.sounds_of(session, voice.id, Feel::Written, |s| {
        let mine = asked.layer.is_none() || s.layer.is_none() || s.layer == asked.layer;
        hits += u32::from(mine && (from..to).contains(&s.at_ticks));
    });
    if hits > 0 {
        return None;
    }
    let leader = voice.follows.and_then(|id| session.voice(id));
    let who = leader.map_or_else(|| "it".to_owned(), |l| format!("{}, which it follows,", l.name));
    let first = asked.from_bar + 1;
    let bars = if asked.bars == 1 {
        format!("bar {first}")
    } else {
        format!("bars {first} to {}", asked.from_bar + asked.bars)
    };
    plain(format!("{who} has no hits in {bars}"))
}
