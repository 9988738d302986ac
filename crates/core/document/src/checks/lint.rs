//! Things worth a look, each with a key by which a person can dismiss it.

use super::gain::{later_by, way_gain};
use super::repair::{Repair, turn_back, turn_round, undelayed_way};
use super::trace::goes;
use super::twins::twins;
use crate::edit::{
    Edit, ProcessorChange, RemoveStrip, RenameStrip, RenameVoice, SetOutput, SetProcessor, SetSend, SetStrips,
    StripChange,
};
use crate::routing::{Means, Way, links, ways};
use crate::session::{
    Family, Key, Processor, SendTap, Session, Shared, Strip, StripKind, StripSend, Voice, VoiceSource,
};
use lane_dsp::{Compressor, Settings};
use lane_units::{CheckKey, Name, Names, StripId, VoiceId, gain_to_db};
use serde::Serialize;
use std::collections::{BTreeMap, HashMap, HashSet};

/// One thing worth a look.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Check {
    /// Stays the same while the thing is there, so that it can be dismissed.
    pub key: CheckKey,
    /// What is worth a look.
    pub sentence: String,
    /// An edit that mends it, where one does.
    pub repair: Option<Repair>,
    /// Whether a person put it out of sight.
    pub dismissed: bool,
}

/// A processor that takes gain away by a key, where it stands, its key, and what that hears.
type Ducker<'a> = (&'a Strip, &'a Processor, &'a Key, &'a Strip);

/// An attack under this clicks on low sounds, and one that does not, in ms.
const CLICK_MS: f64 = 1.0;
const SMOOTH_MS: f64 = 2.0;

/// Everything worth a look in a session, dismissed ones last.
pub fn checks(session: &Session) -> Vec<Check> {
    let mut found = Found { session, list: Vec::new() };
    found.straight_into_main();
    found.goes_nowhere();
    found.unfed();
    found.parallel_ways();
    found.same_sound();
    found.dead_keys();
    found.duckers();
    found.sends_to_muted();
    found.same_names();
    found.no_sound();
    found.left_on();
    let mut list = found.list;
    list.sort_by_key(|c| c.dismissed);
    list
}

struct Found<'a> {
    session: &'a Session,
    list: Vec<Check>,
}

impl Found<'_> {
    fn add(&mut self, key: String, sentence: String, repair: Option<(String, Edit)>) {
        let key = CheckKey::cleaned(&key, "check");
        let dismissed = self.session.dismissed.contains(&key);
        let repair = repair.map(|(name, edit)| Repair { name, edit });
        self.list.push(Check { key, sentence, repair, dismissed });
    }

    /// Only the mix bus should feed main, so that the mix has one place.
    fn straight_into_main(&mut self) {
        let s = self.session;
        let (Some(main), mix) = (s.main().map(|m| m.id), s.mix_bus) else { return };
        if mix == main {
            return;
        }
        for strip in s.strips.iter().filter(|x| x.output == Some(main) && x.id != mix) {
            let (name, bus) = (s.strip_name(strip.id), s.strip_name(mix));
            let edit = Edit::SetOutput(SetOutput { strips: vec![strip.id], output: Some(mix) });
            let sentence = format!("{name} goes straight into main, past {bus}.");
            self.add(format!("main {}", strip.id.0), sentence, Some((format!("Send it to {bus}"), edit)));
        }
    }

    fn goes_nowhere(&mut self) {
        let s = self.session;
        let mix = s.mix_bus;
        for strip in
            s.strips.iter().filter(|x| x.output.is_none() && !matches!(x.kind, StripKind::Main | StripKind::Trigger))
        {
            let to = if mix == strip.id { s.main().map_or(mix, |m| m.id) } else { mix };
            let edit = Edit::SetOutput(SetOutput { strips: vec![strip.id], output: Some(to) });
            let sentence = format!("{} goes to nothing.", s.strip_name(strip.id));
            self.add(
                format!("nowhere {}", strip.id.0),
                sentence,
                Some((format!("Send it to {}", s.strip_name(to)), edit)),
            );
        }
    }

    /// Buses and returns that nothing goes to.
    fn unfed(&mut self) {
        let s = self.session;
        let fed: HashSet<StripId> =
            links(s).iter().filter(|l| !matches!(l.means, Means::Key(_))).map(|l| l.to).collect();
        for strip in s.strips.iter().filter(|x| !fed.contains(&x.id) && x.id != s.mix_bus) {
            let kind = match strip.kind {
                StripKind::Bus => "bus",
                StripKind::Return => "return",
                _ => continue,
            };
            let edit = Edit::RemoveStrip(RemoveStrip { strip: strip.id, feeders_to: None });
            let sentence = format!("Nothing feeds the {kind} {}.", strip.name);
            self.add(format!("empty {}", strip.id.0), sentence, Some(("Remove it".into(), edit)));
        }
    }

    /// Sends whose way doubles what arrives anyway, or takes from it.
    fn parallel_ways(&mut self) {
        let s = self.session;
        let mut turned: HashSet<StripId> = HashSet::new();
        for strip in s.strips.iter().filter(|x| !x.sends.is_empty()) {
            let found = ways(s, strip.id);
            let reaches = |id: StripId| Some(id) == s.main().map(|m| m.id);
            let Some(direct) = found.first().filter(|w| w.strips.last().is_some_and(|id| reaches(*id))) else {
                continue;
            };
            let straight = way_gain(s, direct);
            if straight.gain == 0.0 {
                continue;
            }
            for send in &strip.sends {
                let by_send = |w: &&Way| w.means.first() == Some(&Means::Send) && w.strips.get(1) == Some(&send.to);
                let Some(way) = found.iter().find(by_send) else { continue };
                let figures = way_gain(s, way);
                if send.mute || figures.gain == 0.0 || s.strip(send.to).is_none_or(|r| r.mute) {
                    continue;
                }
                let share = figures.gain / straight.gain;
                let late = figures.late_against(&straight);
                if share < 0.0 && turned.insert(send.to) {
                    self.out_of_polarity(
                        send.to,
                        share,
                        figures.plain && straight.plain && figures.delay == straight.delay,
                    );
                } else if share > 0.0 && late != 0.0 && turned.insert(send.to) {
                    self.late_way(strip, way, direct, late);
                } else if share > 0.0 && figures.plain && figures.delay == straight.delay {
                    let (name, db) = (s.strip_name(strip.id), gain_to_db(1.0 + share));
                    let sentence = format!("{name} arrives twice: it also {}, {db:.1} dB louder in all.", goes(s, way));
                    let edit =
                        Edit::SetSend(SetSend { strips: vec![strip.id], send: StripSend { mute: true, ..*send } });
                    self.add(
                        format!("twice {} {}", strip.id.0, send.to.0),
                        sentence,
                        Some(("Mute the send".into(), edit)),
                    );
                }
            }
        }
    }

    /// * `share` – what it adds against the sound beside it.
    /// * `sure` – whether that is all that happens to it.
    fn out_of_polarity(&mut self, to: StripId, share: f64, sure: bool) {
        let s = self.session;
        let Some(strip) = s.strip(to) else { return };
        let edit = turn_back(strip, s).unwrap_or_else(|| turn_round(s, to));
        let db = -gain_to_db((1.0 + share).abs() / share.abs().max(1.0));
        let amount = match db {
            _ if !sure => String::new(),
            db if db > 30.0 => ": they cancel completely".into(),
            db => format!(": they cancel by {db:.1} dB"),
        };
        let sentence = format!("What {} adds is out of polarity with the sound beside it{amount}.", s.strip_name(to));
        self.add(format!("polarity {}", to.0), sentence, Some(edit));
    }

    /// A way of a sound that comes later than another of it, by a delay that somebody set.
    fn late_way(&mut self, strip: &Strip, way: &Way, direct: &Way, late: f64) {
        let s = self.session;
        let repair = if late > 0.0 { undelayed_way(s, way, direct) } else { undelayed_way(s, direct, way) };
        let (name, by) = (s.strip_name(strip.id), later_by(s, late));
        let sentence = format!("{name} also {}, {by}: together they comb.", goes(s, way));
        let to = way.strips.get(1).map_or(0, |id| id.0);
        self.add(format!("late {} {to}", strip.id.0), sentence, repair);
    }

    /// Two lanes that play one sound at the same time, with nothing to tell them apart.
    fn same_sound(&mut self) {
        let s = self.session;
        for pair in twins(s) {
            let (first, second) = (pair.first, pair.second);
            let what = format!("{} and {} play the same sound at the same time", first.name, second.name);
            let key = if pair.harm() { "cancel" } else { "same" };
            let key = format!("{key} {} {}", first.id.0, second.id.0);
            self.add(key, format!("{what}, {}.", pair.effect(s)), Some(pair.repair(s)));
        }
    }

    /// Keys that can never do anything.
    fn dead_keys(&mut self) {
        let s = self.session;
        let mut sounding: HashSet<StripId> = s
            .voices
            .iter()
            .filter(|v| match v.source {
                VoiceSource::Empty => false,
                VoiceSource::Recording { .. } => true,
                VoiceSource::OneShot { .. } => s.parts.iter().any(|p| p.voice == v.follows.unwrap_or(v.id)),
            })
            .map(|v| v.channel)
            .collect();
        for id in crate::routing::order(s).unwrap_or_default() {
            if let Some(strip) = s.strip(id).filter(|x| sounding.contains(&x.id)) {
                sounding.extend(strip.output.into_iter().chain(strip.sends.iter().map(|send| send.to)));
            }
        }
        for (strip, processor, key) in s.keys().filter(|(_, p, _)| p.on) {
            let what = format!("The {} of {}", processor.settings.name().to_lowercase(), s.strip_name(strip.id));
            if key.sources().any(|source| sounding.contains(&source)) {
                continue;
            }
            let sentence = match key.source {
                None => format!("{what} listens to a lane that was removed."),
                Some(_) => format!("{what} listens to {}, which never sounds.", s.strip_names(key.sources())),
            };
            let change = ProcessorChange::Key(None);
            let edit = Edit::SetProcessor(SetProcessor { strip: strip.id, processor: processor.id, change });
            self.add(
                format!("key {}", processor.id.0),
                sentence,
                Some(("Let it listen to its own input".into(), edit)),
            );
        }
    }

    /// Duckers that do what is seldom meant.
    fn duckers(&mut self) {
        let s = self.session;
        let on = s.keys().filter(|(_, p, _)| p.on && p.ducks());
        let sources = |key: &Key| key.sources().filter_map(|id| s.strip(id)).collect::<Vec<_>>();
        let each = on.flat_map(|(strip, p, key)| sources(key).into_iter().map(move |source| (strip, p, key, source)));
        let all: Vec<Ducker> = each.collect();
        for ducker in &all {
            self.moved_by_a_fader(ducker);
            self.under_a_muted_lane(ducker);
            self.by_a_whole_bus(ducker);
            self.clicks(ducker);
        }
        let mut seen: HashMap<(StripId, StripId), &Processor> = HashMap::new();
        for (strip, processor, _, source) in &all {
            let Some(first) = seen.insert((strip.id, source.id), processor) else { continue };
            let name = |p: &Processor| p.settings.name().to_lowercase();
            let both = if name(first) == name(processor) {
                format!("two {}s", name(first))
            } else {
                format!("a {} and a {}", name(first), name(processor))
            };
            let sentence =
                format!("{} is ducked twice by {}, by {both}.", s.strip_name(strip.id), s.strip_name(source.id));
            let off = ProcessorChange::On(false);
            let edit = Edit::SetProcessor(SetProcessor { strip: strip.id, processor: processor.id, change: off });
            self.add(
                format!("ducked twice {}", processor.id.0),
                sentence,
                Some(("Switch the second off".into(), edit)),
            );
        }
    }

    /// What a ducker is called: the compressor of a bass.
    fn called(&self, (strip, processor, ..): &Ducker) -> String {
        format!("The {} of {}", processor.settings.name().to_lowercase(), self.session.strip_name(strip.id))
    }

    fn moved_by_a_fader(&mut self, ducker: &Ducker) {
        let (strip, processor, key, source) = ducker;
        if key.tap != SendTap::PostFader {
            return;
        }
        let sentence = format!(
            "{} listens to {} after its fader: whoever moves that, moves how deep it ducks.",
            self.called(ducker),
            self.session.strip_name(source.id)
        );
        let change = ProcessorChange::Key(Some(Key { tap: SendTap::PreFader, ..**key }));
        let edit = Edit::SetProcessor(SetProcessor { strip: strip.id, processor: processor.id, change });
        self.add(format!("key tap {}", processor.id.0), sentence, Some(("Listen before the fader".into(), edit)));
    }

    /// It makes room for what is not heard.
    fn under_a_muted_lane(&mut self, ducker: &Ducker) {
        let (strip, processor, _, source) = ducker;
        if !source.mute {
            return;
        }
        let sentence = format!(
            "{} ducks under {}, which is muted; a trigger in its place would say that this is meant.",
            self.called(ducker),
            self.session.strip_name(source.id)
        );
        let change = ProcessorChange::On(false);
        let edit = Edit::SetProcessor(SetProcessor { strip: strip.id, processor: processor.id, change });
        self.add(format!("key mute {}", processor.id.0), sentence, Some(("Switch the ducker off".into(), edit)));
    }

    /// It ducks under everything on a bus, where one low lane of it is likely meant.
    fn by_a_whole_bus(&mut self, ducker: &Ducker) {
        let s = self.session;
        let (strip, processor, key, source) = ducker;
        if source.kind != StripKind::Bus || key.low_pass_hz > 0.0 {
            return;
        }
        let feeds = |v: &&Voice| ways(s, v.channel).iter().any(|way| way.strips.contains(&source.id));
        let fed: Vec<&Voice> = Shared::values(&s.voices).filter(feeds).collect();
        let low: Vec<&&Voice> = fed.iter().filter(|v| v.family == Family::Low).collect();
        let (true, [only]) = (fed.len() > 2, &low[..]) else { return };
        let only = s.strip_name(only.channel);
        let sentence = format!(
            "{} listens to all of {}, where {only} alone may be meant.",
            self.called(ducker),
            s.strip_name(source.id)
        );
        let change = ProcessorChange::Key(Some(Key { source: Some(low[0].channel), ..**key }));
        let edit = Edit::SetProcessor(SetProcessor { strip: strip.id, processor: processor.id, change });
        self.add(format!("key bus {}", processor.id.0), sentence, Some((format!("Listen to {only}"), edit)));
    }

    /// A gain that moves faster than a low sound swings is heard as a click.
    fn clicks(&mut self, ducker: &Ducker) {
        let (strip, processor, ..) = ducker;
        let Settings::Compressor(set) = &processor.settings else { return };
        let low = |v: &Voice| v.channel == strip.id && matches!(v.family, Family::Bass | Family::Low);
        if set.attack_ms >= CLICK_MS || set.lookahead_ms > 0.0 || !Shared::values(&self.session.voices).any(low) {
            return;
        }
        let sentence = format!(
            "{} takes hold within {} ms, which clicks on low sounds.",
            self.called(ducker),
            (set.attack_ms * 100.0).round() / 100.0
        );
        let change =
            ProcessorChange::Settings(Settings::Compressor(Compressor { attack_ms: SMOOTH_MS, ..set.clone() }));
        let edit = Edit::SetProcessor(SetProcessor { strip: strip.id, processor: processor.id, change });
        self.add(format!("click {}", processor.id.0), sentence, Some((format!("An attack of {SMOOTH_MS} ms"), edit)));
    }

    /// Returns that are muted while something is sent to them.
    fn sends_to_muted(&mut self) {
        let s = self.session;
        for to in s.strips.iter().filter(|x| x.kind == StripKind::Return && x.mute) {
            let senders = s.strips.iter().filter(|x| x.send_to(to.id).is_some_and(|send| !send.mute));
            let names: Vec<String> = senders.map(|x| s.strip_name(x.id)).collect();
            if !names.is_empty() {
                let edit = Edit::SetStrips(SetStrips { strips: vec![to.id], change: StripChange::Mute(false) });
                let sends = if names.len() == 1 { "sends" } else { "send" };
                let sentence = format!("{} {sends} to {}, which is muted.", names.join(", "), to.name);
                self.add(format!("mute {}", to.id.0), sentence, Some(("Unmute it".into(), edit)));
            }
        }
    }

    fn same_names(&mut self) {
        let s = self.session;
        let mut names: BTreeMap<String, Vec<(Option<VoiceId>, StripId)>> = BTreeMap::new();
        let voices = s.voices.iter().map(|v| (v.name.to_string(), (Some(v.id), v.channel)));
        let buses = s.strips.iter().filter(|x| !x.takes_voices()).map(|b| (b.name.to_string(), (None, b.id)));
        for (name, who) in voices.chain(buses) {
            names.entry(name.to_lowercase()).or_default().push(who);
        }
        for (name, who) in names.into_iter().filter(|(_, who)| who.len() > 1) {
            let Some((voice, strip)) = who.last().copied() else { continue };
            let shown = voice.and_then(|v| s.voice(v)).map_or_else(|| s.strip_name(strip), |v| v.name.to_string());
            let taken = s.voices.iter().map(|v| v.name.as_str()).chain(s.strips.iter().map(|x| x.name.as_str()));
            let repair = Name::new(&shown).ok().map(|shown| {
                let free = Names::of(taken).take(&shown);
                let edit = match voice {
                    Some(voice) => Edit::RenameVoice(RenameVoice { voice, name: free.clone() }),
                    None => Edit::RenameStrip(RenameStrip { strip, name: free.clone().into() }),
                };
                (format!("Call one {free}"), edit)
            });
            self.add(format!("name {name}"), format!("{} rows are called {shown}.", who.len()), repair);
        }
    }

    fn no_sound(&mut self) {
        for voice in self.session.voices.iter().filter(|v| v.source == VoiceSource::Empty) {
            self.add(format!("sound {}", voice.id.0), format!("{} has no sound yet.", voice.name), None);
        }
    }

    /// What would be missing from stems without anybody having meant it.
    fn left_on(&mut self) {
        let s = self.session;
        let soloed: Vec<StripId> = s.strips.iter().filter(|x| x.solo).map(|x| x.id).collect();
        if !soloed.is_empty() {
            let names: Vec<String> = soloed.iter().map(|id| s.strip_name(*id)).collect();
            let edit = Edit::SetStrips(SetStrips { strips: soloed, change: StripChange::Solo(false) });
            let sentence = format!("Solo is on at {}; the rest is silent in the mix and in stems.", names.join(", "));
            self.add("solo".into(), sentence, Some(("Take every solo off".into(), edit)));
        }
        let told: HashSet<String> = self.list.iter().map(|c| c.key.to_string()).collect();
        for strip in s.strips.iter().filter(|x| x.mute && !told.contains(&format!("mute {}", x.id.0))) {
            let edit = Edit::SetStrips(SetStrips { strips: vec![strip.id], change: StripChange::Mute(false) });
            let sentence = format!("{} is muted and will be silent in its stem.", s.strip_name(strip.id));
            self.add(format!("mute {}", strip.id.0), sentence, Some(("Unmute it".into(), edit)));
        }
    }
}
