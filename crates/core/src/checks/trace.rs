//! The walk from a lane to main, and the first thing on it that stops the sound.

use crate::edit::{Edit, StripChange};
use crate::routing;
use crate::session::{Feel, Session, Song, Strip, StripKind, Voice, VoiceSource};
use crate::units::{OFF_DB, StripId, VoiceId};
use serde::Serialize;

/// What can be done about a finding.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Repair {
    /// A short command, such as "Unmute Tops".
    pub name: String,
    pub edit: Edit,
}

/// One station of the walk.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct TraceStep {
    pub strip: StripId,
    pub name: String,
    /// Why nothing passes here.
    pub stop: Option<String>,
}

/// A lane's way to main.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Trace {
    /// The whole in a sentence.
    pub sentence: String,
    /// Whether something stops the sound.
    pub silent: bool,
    pub repair: Option<Repair>,
    pub steps: Vec<TraceStep>,
}

struct Stop {
    /// What follows "Snare is silent: ".
    reason: String,
    repair: Option<Repair>,
}

fn repair(name: String, edit: Edit) -> Option<Repair> {
    Some(Repair { name, edit })
}

/// Walks from a voice, or where none is given from a strip, to main. Hits are looked for in some bars,
/// counted from 0.
pub fn trace(session: &Session, voice: Option<VoiceId>, strip: StripId, from_bar: u32, bars: u32) -> Trace {
    let path = routing::path_from(session, strip);
    let voice = voice.and_then(|v| session.voice(v));
    let name = voice.map_or_else(|| session.strip_name(strip), |v| v.name.clone());
    let source = voice.and_then(|v| source_stop(session, v, from_bar, bars));
    let stops: Vec<(StripId, Option<Stop>)> =
        path.iter().map(|id| (*id, session.strip(*id).and_then(|s| strip_stop(session, s, strip)))).collect();
    let steps = stops
        .iter()
        .map(|(id, stop)| TraceStep {
            strip: *id,
            name: session.strip_name(*id),
            stop: stop.as_ref().map(|s| s.reason.clone()),
        })
        .collect();
    let first = source.or_else(|| stops.into_iter().find_map(|(_, stop)| stop));
    match first {
        Some(stop) => {
            Trace { sentence: format!("{name} is silent: {}.", stop.reason), silent: true, repair: stop.repair, steps }
        }
        None => {
            let names: Vec<String> = path.iter().skip(1).map(|id| session.strip_name(*id)).collect();
            let way =
                if names.is_empty() { "is heard".to_owned() } else { format!("goes to {}", names.join(", then ")) };
            Trace { sentence: format!("{name} {way}."), silent: false, repair: None, steps }
        }
    }
}

/// Why a voice gives nothing to its channel.
fn source_stop(session: &Session, voice: &Voice, from_bar: u32, bars: u32) -> Option<Stop> {
    let plain = |reason: &str| Some(Stop { reason: reason.into(), repair: None });
    let song = Song::new(session);
    let bar = f64::from(song.bar_ticks());
    let (from, to) = (f64::from(from_bar) * bar, f64::from(from_bar + bars) * bar);
    match &voice.source {
        VoiceSource::Empty => plain("it has no sound yet; take one from the library or drop one"),
        VoiceSource::OneShot { layers, .. } if layers.is_empty() => plain("it has no layer"),
        VoiceSource::OneShot { layers, hold } if layers.iter().all(|l| l.gain_db <= OFF_DB) => {
            let layers = layers.iter().map(|l| crate::session::Layer { gain_db: 0.0, ..l.clone() }).collect();
            let source = VoiceSource::OneShot { layers, hold: *hold };
            Some(Stop {
                reason: "all its layers are off".into(),
                repair: repair(
                    "Bring its layers to 0 dB".into(),
                    Edit::SetSource { voice: voice.id, source, assets: vec![] },
                ),
            })
        }
        VoiceSource::OneShot { .. } => {
            let mut hits = 0;
            song.sounds_of(session, voice.id, Feel::Written, |s| hits += u32::from((from..to).contains(&s.at_ticks)));
            if hits > 0 {
                return None;
            }
            let leader = voice.follows.and_then(|id| session.voice(id));
            let who = leader.map_or_else(|| "it".to_owned(), |l| format!("{}, which it follows,", l.name));
            let loop_name = if bars == 1 {
                format!("bar {}", from_bar + 1)
            } else {
                format!("bars {} to {}", from_bar + 1, from_bar + bars)
            };
            plain(&format!("{who} has no hits in {loop_name}"))
        }
        VoiceSource::Recording { asset, start_frame } => {
            let start = f64::from(*start_frame) / song.frames_per_tick();
            let length = session.asset(asset).map_or(0.0, |a| f64::from(a.frames) / song.frames_per_tick());
            if start < to && start + length > from { None } else { plain("its recording does not run in these bars") }
        }
    }
}

/// Why nothing comes out of a strip on the way from `origin`.
fn strip_stop(session: &Session, strip: &Strip, origin: StripId) -> Option<Stop> {
    let own = strip.id == origin;
    let name = session.strip_name(strip.id);
    let whose = match strip.kind {
        _ if own => "it".to_owned(),
        StripKind::Main => "main".to_owned(),
        _ => format!("its bus {name}"),
    };
    let set = |change| Edit::SetStrips { strips: vec![strip.id], change };
    let stop = |reason: String, fix: String, edit| Some(Stop { reason, repair: repair(fix, edit) });
    if strip.mute {
        return stop(format!("{whose} is muted"), format!("Unmute {name}"), set(StripChange::Mute(false)));
    }
    if strip.trim_db <= OFF_DB {
        let fix = format!("Trim {name} to 0 dB");
        return stop(format!("the trim of {whose} is off"), fix, set(StripChange::TrimDb(0.0)));
    }
    if strip.fader_db <= OFF_DB {
        let fix = format!("Bring {name} to 0 dB");
        return stop(format!("the fader of {whose} is off"), fix, set(StripChange::FaderDb(0.0)));
    }
    if !routing::heard(session).contains(&strip.id) {
        let soloed: Vec<StripId> = session.strips.iter().filter(|s| s.solo).map(|s| s.id).collect();
        let names: Vec<String> = soloed.iter().map(|id| session.strip_name(*id)).collect();
        let edit = Edit::SetStrips { strips: soloed, change: StripChange::Solo(false) };
        return stop(format!("solo is on at {}", names.join(", ")), "Take every solo off".into(), edit);
    }
    if strip.output.is_none() && strip.kind != StripKind::Main {
        let to = session.default_output().filter(|to| *to != strip.id).or_else(|| session.main().map(|m| m.id))?;
        let fix = format!("Send {name} to {}", session.strip_name(to));
        let edit = Edit::SetOutput { strips: vec![strip.id], output: Some(to) };
        return stop(format!("{whose} goes to nothing"), fix, edit);
    }
    None
}
