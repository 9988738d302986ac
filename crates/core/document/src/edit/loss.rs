//! What an edit takes away that somebody made, besides what it is there to take away: before it, for whoever asks, and after
//! it, for the line that says so.

use super::{Edit, takes};
use crate::midi;
use crate::session::{Hit, KeptTake, Key, Layer, Polarity, Processor, Session, Shared, Strip, Voice, VoiceSource};
use lane_units::{PatternId, VoiceId, counted};
use std::collections::{HashMap, HashSet};

/// What an edit is there to take away. Nothing is told of it.
#[derive(Default, Clone, Copy)]
struct Purpose {
    voices: bool,
    strips: bool,
    processors: bool,
    sends: bool,
    hits: bool,
}

impl Purpose {
    /// Of an edit. What is not named here is there to take nothing away, so that all it takes is told.
    fn of(edit: &Edit) -> Self {
        let nothing = Purpose::default();
        match edit {
            Edit::TakeOver(_) => Purpose { voices: true, strips: true, processors: true, sends: true, hits: true },
            Edit::RemoveVoices(_) => Purpose { voices: true, ..nothing },
            Edit::RemoveStrip(_) => Purpose { strips: true, sends: true, ..nothing },
            Edit::RemoveProcessors(_) => Purpose { processors: true, ..nothing },
            Edit::RemoveSends(_) => Purpose { sends: true, ..nothing },
            Edit::SetHits(_)
            | Edit::ChangeHits(_)
            | Edit::SetLoop(_)
            | Edit::Humanise(_)
            | Edit::DoublePattern(_)
            | Edit::RemovePattern(_)
            | Edit::RemoveSection(_) => Purpose { hits: true, ..nothing },
            Edit::Batch { edits } => edits.iter().map(Self::of).fold(nothing, |a, b| Purpose {
                voices: a.voices || b.voices,
                strips: a.strips || b.strips,
                processors: a.processors || b.processors,
                sends: a.sends || b.sends,
                hits: a.hits || b.hits,
            }),
            _ => nothing,
        }
    }
}

/// What somebody made that went with an edit though it is not what the edit is for, in a few words each.
///
/// Cost: linear in what differs, and in the voices and strips.
pub fn losses(before: &Session, after: &Session, edit: &Edit) -> Vec<String> {
    let purpose = Purpose::of(edit);
    let mut lost = Vec::new();
    if !purpose.voices {
        lanes(before, after, &mut lost);
    }
    for strip in &before.strips {
        match after.strip(strip.id) {
            Some(now) => within(before, (strip, now), purpose, &mut lost),
            None if purpose.strips => {}
            None => gone(before, after, strip, &mut lost),
        }
    }
    if !purpose.hits {
        hits(before, after, &mut lost);
    }
    lost
}

/// Whether a lane is as a take made it, and what it plays is still there: its notes go on elsewhere, so nothing of anybody's
/// work goes with it.
fn is_takes_own(before: &Session, after: &Session, voice: &Voice) -> bool {
    let made = |take: &&KeptTake| take.groups.iter().any(|g| g.voice == voice.id && g.made);
    let VoiceSource::OneShot { layers, .. } = &voice.source else { return false };
    let ([layer], Some(take)) = (&layers[..], Shared::values(&before.takes).find(made)) else { return false };
    let plain = *layer == Layer::new(layer.asset.clone()) && after.named_assets().contains(&layer.asset);
    let at_rest = before.strip(voice.channel).is_some_and(|strip| made_of(before, strip).is_empty());
    let elsewhere = before.parts.iter().any(|p| p.voice == voice.id && p.pattern != take.pattern);
    let lines = midi::lines(&take.take, before.header.metre.bar_ticks());
    let named = lines.iter().any(|line| *voice.name == *line.name || *voice.name == *line.voice);
    let by_hand = takes::set_by_hand(before, take, &midi::Sorted::new(&take.take));
    plain && at_rest && !elsewhere && named && by_hand.get(&voice.id).is_none_or(Vec::is_empty)
}

fn lanes(before: &Session, after: &Session, lost: &mut Vec<String>) {
    let gone = before.voices.iter().filter(|v| after.voice(v.id).is_none());
    for voice in gone.filter(|v| !is_takes_own(before, after, v)) {
        lost.push(format!("the lane {}", voice.name));
    }
}

/// A strip that went.
fn gone(before: &Session, after: &Session, strip: &Strip, lost: &mut Vec<String>) {
    // The channel of lanes that went goes with them.
    if strip.takes_voices() && before.voices_on(strip.id).all(|v| after.voice(v.id).is_none()) {
        return;
    }
    let made = made_of(before, strip);
    let name = before.strip_name(strip.id);
    if strip.takes_voices() {
        if !made.is_empty() {
            lost.push(format!("the channel of {name} ({})", made.join(", ")));
        }
    } else {
        lost.push(if made.is_empty() { name } else { format!("{name} ({})", made.join(", ")) });
    }
}

/// What somebody set on a strip.
fn made_of(s: &Session, strip: &Strip) -> Vec<String> {
    let mut made: Vec<String> = Vec::new();
    let mut level = |what: &str, db: f64| {
        if db != 0.0 {
            made.push(format!("{what} {db:+.1} dB"));
        }
    };
    level("trim", strip.trim_db);
    level("fader", strip.fader_db);
    let mut also = |is: bool, what: &str| {
        if is {
            made.push(what.into());
        }
    };
    also(strip.pan_percent != 0.0, "pan");
    also(strip.width_percent != 100.0, "width");
    also(strip.polarity != Polarity::Normal, "polarity");
    also(strip.offset_frames != 0, "offset");
    also(strip.target.is_some(), "target");
    made.extend(strip.chain.iter().map(name_of));
    made.extend(strip.sends.iter().map(|send| format!("send to {}", s.strip_name(send.to))));
    made
}

fn name_of(processor: &Processor) -> String {
    processor.settings.name().to_lowercase()
}

/// What went within a strip that stays.
fn within(s: &Session, (then, now): (&Strip, &Strip), purpose: Purpose, lost: &mut Vec<String>) {
    let on = |what: String| format!("{what} on {}", s.strip_name(then.id));
    for old in &then.chain {
        match now.processor(old.id) {
            None if purpose.processors => {}
            None => lost.push(on(name_of(old))),
            Some(new) => {
                let heard: HashSet<_> = new.key.into_iter().flat_map(Key::sources).collect();
                for source in old.key.into_iter().flat_map(Key::sources).filter(|x| !heard.contains(x)) {
                    lost.push(on(format!("the key {} of {}", s.strip_name(source), name_of(old))));
                }
            }
        }
    }
    if !purpose.sends {
        for send in then.sends.iter().filter(|send| now.send_to(send.to).is_none()) {
            lost.push(format!("the send of {} to {}", s.strip_name(then.id), s.strip_name(send.to)));
        }
    }
}

/// A hit as one would know it again on another lane, where it may sound at another pitch and for another time.
type Known = (u32, u8);
fn known(hit: &Hit) -> Known {
    (hit.at_ticks, hit.velocity)
}

/// Hits that went from lanes that stay, and did not move to another lane.
fn hits(before: &Session, after: &Session, lost: &mut Vec<String>) {
    let now: HashMap<(PatternId, VoiceId), _> = after.parts.iter().map(|p| ((p.pattern, p.voice), p)).collect();
    // What a pattern got elsewhere.
    let mut came: HashMap<PatternId, HashMap<Known, usize>> = HashMap::new();
    let then: HashMap<(PatternId, VoiceId), _> = before.parts.iter().map(|p| ((p.pattern, p.voice), p)).collect();
    for (key, part) in &now {
        let old: HashSet<Known> = then.get(key).into_iter().flat_map(|p| &p.hits).map(known).collect();
        for hit in part.hits.iter().map(known).filter(|hit| !old.contains(hit)) {
            *came.entry(key.0).or_default().entry(hit).or_default() += 1;
        }
    }
    for part in &before.parts {
        let (Some(voice), Some(pattern)) = (after.voice(part.voice), after.pattern(part.pattern)) else { continue };
        let left: HashSet<Known> =
            now.get(&(part.pattern, part.voice)).into_iter().flat_map(|p| &p.hits).map(known).collect();
        let missing = part.hits.iter().map(known).filter(|hit| !left.contains(hit)).filter(|hit| {
            let moved = came.get_mut(&part.pattern).and_then(|came| came.get_mut(hit)).filter(|n| **n > 0);
            moved.map(|n| *n -= 1).is_none()
        });
        let n = missing.count();
        if n > 0 {
            lost.push(format!("{} of {} in {}", counted(n, "hit"), voice.name, pattern.name));
        }
    }
}
