//! Things worth a look, each with a key by which a person can dismiss it.

use super::trace::Repair;
use crate::edit::{Edit, StripChange};
use crate::session::{Session, StripKind, VoiceSource};
use crate::units::{StripId, VoiceId};
use serde::Serialize;
use std::collections::BTreeMap;

/// One thing worth a look.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Check {
    /// Stays the same while the thing is there, so that it can be dismissed.
    pub key: String,
    pub sentence: String,
    pub repair: Option<Repair>,
    pub dismissed: bool,
}

/// Everything worth a look in a session, dismissed ones last.
pub fn checks(session: &Session) -> Vec<Check> {
    let mut found = Found { session, list: Vec::new() };
    found.straight_into_main();
    found.goes_nowhere();
    found.bus_without_feeders();
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
        let dismissed = self.session.dismissed.contains(&key);
        let repair = repair.map(|(name, edit)| Repair { name, edit });
        self.list.push(Check { key, sentence, repair, dismissed });
    }

    /// Only the mix bus should feed main, so that the mix has one place.
    fn straight_into_main(&mut self) {
        let s = self.session;
        let (Some(main), Some(mix)) = (s.main().map(|m| m.id), s.default_output()) else { return };
        if mix == main {
            return;
        }
        for strip in s.strips.iter().filter(|x| x.output == Some(main) && x.id != mix) {
            let (name, bus) = (s.strip_name(strip.id), s.strip_name(mix));
            let edit = Edit::SetOutput { strips: vec![strip.id], output: Some(mix) };
            let sentence = format!("{name} goes straight into main, past {bus}.");
            self.add(format!("main {}", strip.id.0), sentence, Some((format!("Send it to {bus}"), edit)));
        }
    }

    fn goes_nowhere(&mut self) {
        let s = self.session;
        let Some(mix) = s.default_output() else { return };
        for strip in s.strips.iter().filter(|x| x.output.is_none() && x.kind != StripKind::Main) {
            let to = if mix == strip.id { s.main().map_or(mix, |m| m.id) } else { mix };
            let edit = Edit::SetOutput { strips: vec![strip.id], output: Some(to) };
            let sentence = format!("{} goes to nothing.", s.strip_name(strip.id));
            self.add(
                format!("nowhere {}", strip.id.0),
                sentence,
                Some((format!("Send it to {}", s.strip_name(to)), edit)),
            );
        }
    }

    fn bus_without_feeders(&mut self) {
        let s = self.session;
        for bus in s.strips.iter().filter(|x| x.kind == StripKind::Bus && Some(x.id) != s.default_output()) {
            if !s.strips.iter().any(|x| x.output == Some(bus.id)) {
                let edit = Edit::RemoveBus { bus: bus.id };
                self.add(
                    format!("empty {}", bus.id.0),
                    format!("Nothing feeds the bus {}.", bus.name),
                    Some(("Remove it".into(), edit)),
                );
            }
        }
    }

    fn same_names(&mut self) {
        let s = self.session;
        let mut names: BTreeMap<String, Vec<(Option<VoiceId>, StripId)>> = BTreeMap::new();
        let voices = s.voices.iter().map(|v| (v.name.clone(), (Some(v.id), v.channel)));
        let buses = s.strips.iter().filter(|x| x.kind != StripKind::Channel).map(|b| (b.name.clone(), (None, b.id)));
        for (name, who) in voices.chain(buses) {
            names.entry(name.to_lowercase()).or_default().push(who);
        }
        for (name, who) in names.into_iter().filter(|(_, who)| who.len() > 1) {
            let Some((voice, strip)) = who.last().copied() else { continue };
            let shown = voice.and_then(|v| s.voice(v)).map_or_else(|| s.strip_name(strip), |v| v.name.clone());
            let free = (2..).map(|n| format!("{shown} {n}")).find(|n| {
                !s.voices.iter().any(|v| v.name.eq_ignore_ascii_case(n))
                    && !s.strips.iter().any(|x| x.name.eq_ignore_ascii_case(n))
            });
            let repair = free.map(|free| {
                let edit = match voice {
                    Some(voice) => Edit::RenameVoice { voice, name: free.clone() },
                    None => Edit::RenameStrip { strip, name: free.clone() },
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
            let edit = Edit::SetStrips { strips: soloed, change: StripChange::Solo(false) };
            let sentence = format!("Solo is on at {}; the rest is silent in the mix and in stems.", names.join(", "));
            self.add("solo".into(), sentence, Some(("Take every solo off".into(), edit)));
        }
        for strip in s.strips.iter().filter(|x| x.mute) {
            let edit = Edit::SetStrips { strips: vec![strip.id], change: StripChange::Mute(false) };
            let sentence = format!("{} is muted and will be silent in its stem.", s.strip_name(strip.id));
            self.add(format!("mute {}", strip.id.0), sentence, Some(("Unmute it".into(), edit)));
        }
    }
}
