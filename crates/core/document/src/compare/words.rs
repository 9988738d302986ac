//! Items in words with units.

use super::items::{Item, List, StripField, VoiceField};
use crate::session::{Header, Hit, Key, Polarity, Processor, SendTap, Session, Strip, StripKind, VoiceSource};
use lane_dsp::Settings;
use lane_units::{OFF_DB, StripId, counted};

/// What an item is now and in the other state; a side of several words has several.
pub(super) fn words(item: &Item, now: &Session, then: &Session) -> [Vec<String>; 2] {
    let both = |each: &dyn Fn(&Session) -> Vec<String>| [each(now), each(then)];
    let one = |each: &dyn Fn(&Session) -> String| [vec![each(now)], vec![each(then)]];
    let name = |id: StripId| name_of(now, then, id);
    match item {
        Item::Header => header(&now.header, &then.header),
        Item::Song => one(&|s| {
            let sections: Vec<String> =
                s.sections.iter().map(|x| format!("{} {}", x.name, counted(x.bars, "bar"))).collect();
            format!("song: {} in {}", sections.join(", "), counted(s.patterns.len(), "pattern"))
        }),
        Item::MixBus => one(&|s| format!("mix bus {}", name(s.mix_bus))),
        Item::StemPlan => [vec!["stem plan of now".into()], vec!["another stem plan".into()]],
        Item::References => one(&|s| match s.references.as_slice() {
            [] => "no reference".into(),
            all => {
                let names: Vec<String> = all
                    .iter()
                    .map(|r| {
                        let way = if r.follows { format!("from bar {}", r.start_bar + 1) } else { "by itself".into() };
                        format!("{} frames {} to {} {way}", r.name, r.from_frame, r.to_frame)
                    })
                    .collect();
                format!("references: {}", names.join(", "))
            }
        }),
        Item::Dismissed => one(&|s| format!("{} out of sight", counted(s.dismissed.len(), "check"))),
        Item::Strip(id, field) => one(&|s| s.strip(*id).map_or_else(String::new, |x| value(x, *field, &name))),
        Item::Processor(id, p) => {
            let of = |s: &Session| s.strip(*id).and_then(|x| x.processor(*p)).cloned();
            processor(of(now).as_ref(), of(then).as_ref(), &name)
        }
        Item::ChainOrder(id) => one(&|s| {
            let order: Vec<&str> = s.strip(*id).into_iter().flat_map(|x| &x.chain).map(|p| p.settings.name()).collect();
            format!("chain: {}", order.join(", "))
        }),
        Item::Send(id, to) => one(&|s| match s.strip(*id).and_then(|x| x.send_to(*to)) {
            None => format!("not sent to {}", name(*to)),
            Some(send) => {
                let tap = if send.tap == SendTap::PreFader { "pre" } else { "post" };
                let pan =
                    if send.pan_percent == 0.0 { String::new() } else { format!(", pan {}", pan(send.pan_percent)) };
                let placed = if send.tap == SendTap::PreFader && !send.placed { ", without its pan" } else { "" };
                let mute = if send.mute { ", muted" } else { "" };
                format!("to {} {} {tap}{pan}{placed}{mute}", name(*to), level(send.level_db))
            }
        }),
        Item::SendOrder(_) => [vec!["sends in one order".into()], vec!["in another".into()]],
        Item::Voice(id, part) => one(&|s| {
            let Some(voice) = s.voice(*id) else { return String::new() };
            match part {
                VoiceField::Name => format!("called {}", voice.name),
                VoiceField::Source => format!("sound {}", sound(s, &voice.source)),
                VoiceField::Feel => {
                    let late = if voice.late_ms == 0.0 { String::new() } else { format!(", {:+.1} ms", voice.late_ms) };
                    let swing = voice.swing.map_or(String::new(), |x| format!(", swing {:.0} %", x.percent));
                    let choke = voice.choke_set.map_or(String::new(), |x| format!(", choke {x}"));
                    format!("family {:?}{swing}{late}{choke}", voice.family).to_lowercase()
                }
                VoiceField::Follows => {
                    let leader = voice.follows.and_then(|id| now.voice(id).or_else(|| then.voice(id)));
                    leader.map_or_else(|| "hits of its own".into(), |l| format!("follows {}", l.name))
                }
                VoiceField::Channel => format!("on the channel {}", name(voice.channel)),
            }
        }),
        Item::Hits(pattern, voice) => {
            let called = now.pattern(*pattern).or_else(|| then.pattern(*pattern)).map_or("", |p| p.name.as_str());
            let hits = |s: &Session| -> Vec<Hit> {
                s.parts
                    .iter()
                    .find(|p| (p.pattern, p.voice) == (*pattern, *voice))
                    .map_or_else(Vec::new, |p| p.hits.clone())
            };
            let (a, b) = (hits(now), hits(then));
            let moved = if a.len() == b.len() { ", other ones" } else { "" };
            let say = |list: &[Hit], also: &str| vec![format!("{} in {called}{also}", counted(list.len(), "hit"))];
            [say(&a, ""), say(&b, moved)]
        }
        Item::Take(id) => one(&|s| match s.take(*id) {
            Some(kept) => format!("take {}", kept.take.name),
            None => "no such take".into(),
        }),
        Item::OnlyStrip(id) => both(&|s| match s.strip(*id) {
            // What stands on it says it.
            Some(x) if x.takes_voices() => Vec::new(),
            Some(x) => vec![format!("{} {}", kind(x.kind), x.name)],
            None if now.strip(*id).or_else(|| then.strip(*id)).is_some_and(Strip::takes_voices) => Vec::new(),
            None => vec![format!("no {}", name(*id))],
        }),
        Item::OnlyVoice(id) => one(&|s| match s.voice(*id) {
            Some(voice) => format!("lane {}", voice.name),
            None => "no such lane".into(),
        }),
        Item::Order(list) => {
            let what = match list {
                List::Voices => "lanes",
                List::Strips => "buses and returns",
                List::Takes => "takes",
                List::Parts => "hits",
            };
            [vec![format!("{what} in this order")], vec![format!("{what} in another order")]]
        }
    }
}

fn level(db: f64) -> String {
    if db <= OFF_DB { "off".into() } else { format!("{db:.1} dB") }
}

fn pan(percent: f64) -> String {
    match percent {
        0.0 => "C".into(),
        x => format!("{:.0} {}", x.abs(), if x < 0.0 { "L" } else { "R" }),
    }
}

fn kind(of: StripKind) -> &'static str {
    match of {
        StripKind::Channel => "channel",
        StripKind::Trigger => "trigger",
        StripKind::Bus => "bus",
        StripKind::Return => "return",
        StripKind::Main => "main",
    }
}

fn value(strip: &Strip, field: StripField, name: &dyn Fn(StripId) -> String) -> String {
    match field {
        StripField::Name if strip.name.is_empty() => "called after its voices".into(),
        StripField::Name => format!("called {}", strip.name),
        StripField::Trim => format!("trim {}", level(strip.trim_db)),
        StripField::Polarity => match strip.polarity {
            Polarity::Normal => "polarity normal".into(),
            Polarity::Inverted => "polarity inverted".into(),
        },
        StripField::Offset => format!("offset {}", counted(strip.offset_frames, "sample")),
        StripField::Fader => format!("fader {}", level(strip.fader_db)),
        StripField::Pan => format!("pan {}", pan(strip.pan_percent)),
        StripField::Width => format!("width {:.0} %", strip.width_percent),
        StripField::Mute => if strip.mute { "muted" } else { "not muted" }.into(),
        StripField::Solo => match (strip.solo, strip.solo_safe) {
            (false, false) => "no solo".into(),
            (true, false) => "soloed".into(),
            (false, true) => "solo safe".into(),
            (true, true) => "soloed, solo safe".into(),
        },
        StripField::Target => {
            strip.target.map_or_else(|| "target of the session".into(), |t| format!("target {:.1} dB", t.db))
        }
        StripField::Output => strip.output.map_or_else(|| "to nothing".into(), |to| format!("to {}", name(to))),
        StripField::Kind => format!("a {}", kind(strip.kind)),
    }
}

/// What of a processor differs; where one side lacks it, that.
fn processor(now: Option<&Processor>, then: Option<&Processor>, name: &dyn Fn(StripId) -> String) -> [Vec<String>; 2] {
    match (now, then) {
        (Some(a), Some(b)) => {
            let (mut is, mut was) = (Vec::new(), Vec::new());
            let mut say = |differs: bool, x: String, y: String| {
                if differs {
                    is.push(x);
                    was.push(y);
                }
            };
            let on = |p: &Processor| if p.on { "on" } else { "off" }.to_owned();
            say(a.on != b.on, on(a), on(b));
            say(
                a.input_db != b.input_db,
                format!("input {}", level(a.input_db)),
                format!("input {}", level(b.input_db)),
            );
            say(
                a.output_db != b.output_db,
                format!("output {}", level(a.output_db)),
                format!("output {}", level(b.output_db)),
            );
            let mix = |p: &Processor| format!("mix {:.0} %", p.mix_percent);
            say(a.mix_percent != b.mix_percent, mix(a), mix(b));
            let key = |key: Option<Key>| match key.map(|k| k.sources().map(name).collect::<Vec<_>>()) {
                None => "no key".to_owned(),
                Some(of) if of.is_empty() => "a key of nothing".to_owned(),
                Some(of) => format!("key {}", of.join(", ")),
            };
            let [x, y] = [key(a.key), key(b.key)];
            let same = x == y && a.key != b.key;
            say(a.key != b.key, x, if same { format!("{y}, heard otherwise") } else { y });
            settings(&a.settings, &b.settings, &mut say);
            let named =
                |of: &Processor, words: Vec<String>| vec![format!("{}: {}", of.settings.name(), words.join(", "))];
            [named(a, is), named(b, was)]
        }
        (Some(a), None) => [vec![called(a)], vec![format!("no {}", a.settings.name().to_lowercase())]],
        (None, Some(b)) => [vec![format!("no {}", b.settings.name().to_lowercase())], vec![called(b)]],
        (None, None) => [Vec::new(), Vec::new()],
    }
}

fn called(of: &Processor) -> String {
    format!("{}{}", of.settings.name(), if of.on { "" } else { " (off)" })
}

/// Values that differ, in the words of the kind; what has none is only said to be another.
fn settings(a: &Settings, b: &Settings, say: &mut dyn FnMut(bool, String, String)) {
    if a == b {
        return;
    }
    if a.word() != b.word() {
        return say(true, a.name().into(), b.name().into());
    }
    let mut any = false;
    for ((param, x), (_, y)) in a.values().into_iter().zip(b.values()) {
        let text = |v: f64| format!("{} {v:.1} {}", param.label.to_lowercase(), param.unit).trim_end().to_owned();
        any |= x != y;
        say(x != y, text(x), text(y));
    }
    if let (Settings::Equaliser(x), Settings::Equaliser(y)) = (a, b) {
        let bands = |n: usize| format!("{n} bands");
        let same = x.bands.len() == y.bands.len();
        return say(true, bands(x.bands.len()), if same { "other bands".into() } else { bands(y.bands.len()) });
    }
    say(!any, "set so".into(), "set otherwise".into());
}

fn sound(s: &Session, source: &VoiceSource) -> String {
    let names: Vec<String> =
        source.assets().into_iter().filter_map(|id| s.asset(id)).map(|a| a.name.to_string()).collect();
    match source {
        VoiceSource::Empty => "none".into(),
        VoiceSource::OneShot { .. } => names.join(", "),
        VoiceSource::Recording { .. } => format!("recording {}", names.join(", ")),
    }
}

fn header(now: &Header, then: &Header) -> [Vec<String>; 2] {
    let (mut is, mut was) = (Vec::new(), Vec::new());
    let mut say = |differs: bool, of: &dyn Fn(&Header) -> String| {
        if differs {
            is.push(of(now));
            was.push(of(then));
        }
    };
    say(now.title != then.title, &|h| format!("title {}", h.title));
    say(now.tempo_bpm != then.tempo_bpm, &|h| format!("{} bpm", h.tempo_bpm.bpm()));
    say(now.metre != then.metre, &|h| format!("{}/{}", h.metre.beats(), h.metre.unit()));
    say(now.swing != then.swing, &|h| format!("swing {:.0} %", h.swing.percent));
    say(now.key != then.key, &|h| format!("key {}", h.key));
    say(now.pan_law != then.pan_law, &|h| format!("pan law {:?}", h.pan_law));
    say(now.targets != then.targets, &|h| format!("target of the sum {:.1} dBTP", h.targets.sum_dbtp));
    [is, was]
}

/// What a strip is called, on the side that has it.
pub(super) fn name_of(now: &Session, then: &Session, id: StripId) -> String {
    if now.strip(id).is_some() { now.strip_name(id) } else { then.strip_name(id) }
}
