//! Lanes of another session or a template, brought in with their chains, buses, returns and sends.

use super::EditError;
use super::find::{new_channel, strip_mut, voice_mut, with_new_ids};
use super::intent::Intent;
use super::label::Words;
use super::parts::{Look, Parts, Room, parts};
use super::strips::drop_empty_channels;
use crate::routing;
use crate::session::{
    DocumentError, Hit, Part, SCHEMA, Session, Shared, Strip, StripKind, StripSend, Voice, at_most, limits,
};
use lane_units::Names;
use lane_units::{PatternId, StripId, VoiceId};
use serde::{Deserialize, Serialize};
use std::borrow::Cow;
use std::collections::HashMap;

/// Where a bus or return of the other session ends up, or what a strip is here that is not brought in and keys listen to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct StripMap {
    /// In the other session.
    pub from: StripId,
    /// Here; made anew where not said, which what keys listen to never is.
    pub to: Option<StripId>,
}

/// What of another session is brought in.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Insertion {
    /// The other session.
    pub from: Session,
    /// Voices of `from`.
    pub voices: Vec<VoiceId>,
    /// Buses and returns that the lanes need. One that is not named goes to one of its name and kind here, and
    /// is made where there is none.
    pub map: Vec<StripMap>,
    /// Takes their hits into this pattern, as far as it is long; none where not said.
    pub pattern: Option<PatternId>,
}

impl Parts for Insertion {
    fn look(&mut self, at: &mut Look) {
        let Insertion { from, voices: _, map, pattern } = self;
        from.assets.iter_mut().for_each(|asset| asset.look(at));
        for StripMap { from: _, to } in map {
            to.look(at);
        }
        pattern.look(at);
    }

    fn bounded(&self, room: &Room) -> Result<(), DocumentError> {
        room.rows(self.voices.len())?;
        room.rows(self.map.len())
    }
}

/// Where the buses and returns that voices of another session need end up, unless somebody says otherwise.
///
/// * `voices` – of `from`.
///
/// Cost: linear in the strips of both.
pub fn proposed_map(s: &Session, from: &Session, voices: &[VoiceId]) -> Vec<StripMap> {
    let needed = needed_strips(from, voices);
    let strips = from.strips.iter().filter(|x| needed.contains(&x.id));
    strips.map(|x| StripMap { from: x.id, to: counterpart(s, from, x) }).collect()
}

/// Buses and returns, in the order of `from`, that some of its voices need on their ways to main.
fn needed_strips(from: &Session, voices: &[VoiceId]) -> Vec<StripId> {
    let channels = from.voices.iter().filter(|v| voices.contains(&v.id)).map(|v| v.channel);
    let needed = routing::reached(channels, &routing::sound(from));
    let wanted = |s: &&Strip| matches!(s.kind, StripKind::Bus | StripKind::Return) && needed.contains(&s.id);
    Shared::values(&from.strips).filter(wanted).map(|s| s.id).collect()
}

/// A strip of the same name and kind, or the mix bus for a mix bus.
fn counterpart(s: &Session, from: &Session, strip: &Strip) -> Option<StripId> {
    if strip.id == from.mix_bus {
        return Some(s.mix_bus);
    }
    let same = |x: &&Strip| x.kind == strip.kind && x.name.eq_ignore_ascii_case(&strip.name);
    Shared::values(&s.strips).find(same).map(|x| x.id)
}

pub(super) fn insert(s: &mut Session, what: &Insertion) -> Result<(), EditError> {
    at_most("rows of the other session", what.from.strips.len(), limits::STRIPS)?;
    at_most("voices of the other session", what.from.voices.len(), limits::VOICES)?;
    // An edit that waited since an earlier version brings a document of then.
    let mut from = Cow::Borrowed(&what.from);
    if from.schema < SCHEMA {
        from.to_mut().settle();
    }
    let from = from.as_ref();
    let chosen: Vec<&Voice> = Shared::values(&from.voices).filter(|v| what.voices.contains(&v.id)).collect();
    if chosen.is_empty() {
        return Err(EditError::Nothing);
    }
    from.validate()?;
    super::lanes::add_assets(s, Shared::values(&from.assets));
    // Strips of the other session and what they are here.
    let mut here: HashMap<StripId, StripId> = HashMap::new();
    if let (Some(theirs), Some(ours)) = (from.main(), s.main()) {
        here.insert(theirs.id, ours.id);
    }
    let mut made: Vec<StripId> = Vec::new();
    let mut names = Names::of(s.strips.iter().map(|x| x.name.as_str()));
    for id in needed_strips(from, &what.voices) {
        let Some(strip) = from.strip(id) else { continue };
        let wish = what.map.iter().find(|m| m.from == id);
        let there = match wish {
            Some(map) => map.to,
            None => counterpart(s, from, strip),
        };
        let target = match there {
            Some(target) => {
                strip_mut(s, target)?;
                target
            }
            None => {
                let new = StripId(s.take_id());
                let name = names.take(&strip.name);
                let at = s.strips.iter().position(|x| x.kind == strip.kind || x.kind == StripKind::Main);
                s.strips.insert(at.unwrap_or(s.strips.len()), Strip { id: new, name, ..strip.clone() }.into());
                made.push(id);
                new
            }
        };
        here.insert(id, target);
    }
    for voice in &chosen {
        if let Some(strip) = from.strip(voice.channel)
            && !here.contains_key(&voice.channel)
        {
            let new = new_channel(s, None);
            *strip_mut(s, new)? = Strip { id: new, solo: false, ..strip.clone() };
            here.insert(voice.channel, new);
            made.push(voice.channel);
        }
    }
    // What keys listen to without being brought in.
    for map in &what.map {
        if let Some(to) = map.to
            && !here.contains_key(&map.from)
        {
            here.insert(map.from, strip_mut(s, to)?.id);
        }
    }
    for id in made {
        reconnect(s, from, &here, id)?;
    }
    insert_voices(s, what, &chosen, &here)?;
    drop_empty_channels(s);
    Ok(())
}

/// Puts a copied strip's connections onto what they mean here.
fn reconnect(s: &mut Session, from: &Session, here: &HashMap<StripId, StripId>, id: StripId) -> Result<(), EditError> {
    let Some(old) = from.strip(id) else { return Ok(()) };
    let fallback = Some(s.mix_bus);
    let chain = with_new_ids(s, old.chain.clone());
    let new = here[&id];
    let output = old.output.map(|to| here.get(&to).copied().or(fallback)).filter(|to| *to != Some(new)).flatten();
    let strip = strip_mut(s, new)?;
    strip.output = output;
    strip.sends = old.sends.iter().filter_map(|send| Some(StripSend { to: *here.get(&send.to)?, ..*send })).collect();
    strip.chain = chain;
    for processor in &mut strip.chain {
        processor.key = processor.key.map(|key| key.with_sources(|id| here.get(&id).copied()));
    }
    Ok(())
}

fn insert_voices(
    s: &mut Session,
    what: &Insertion,
    chosen: &[&Voice],
    here: &HashMap<StripId, StripId>,
) -> Result<(), EditError> {
    let mut ids: HashMap<VoiceId, VoiceId> = HashMap::new();
    let mut names = super::lanes::voice_names(s);
    for voice in chosen {
        let id = VoiceId(s.take_id());
        ids.insert(voice.id, id);
        let name = names.take(&voice.name);
        let channel = *here.get(&voice.channel).ok_or(EditError::Nothing)?;
        s.voices.push(Voice { id, name, channel, follows: None, ..(*voice).clone() }.into());
    }
    for voice in chosen {
        let id = ids[&voice.id];
        let leader = voice.follows.and_then(|leader| ids.get(&leader).copied());
        voice_mut(s, id)?.follows = leader;
        let Some(pattern) = what.pattern.filter(|_| leader.is_none()) else { continue };
        let source = voice.follows.unwrap_or(voice.id);
        let Some(part) = what.from.parts.iter().find(|p| p.voice == source) else { continue };
        let end = s.pattern(pattern).map_or(0, |p| p.bars.saturating_mul(s.header.metre.bar_ticks()));
        let hits: Vec<Hit> = part.hits.iter().filter(|h| h.at_ticks < end).copied().collect();
        if !hits.is_empty() {
            s.parts.push(Part { pattern, voice: id, hits, ..(**part).clone() }.into());
        }
    }
    Ok(())
}

/// Lanes of another session or a template, with their chains, buses, returns and sends.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct InsertLanes {
    /// The other session, and which of its lanes.
    pub insertion: Box<Insertion>,
}
parts!(InsertLanes { insertion });

impl Intent for InsertLanes {
    fn label(&self, _: &Words) -> String {
        match self.insertion.voices.len() {
            1 => "Insert a lane".into(),
            n => format!("Insert {n} lanes"),
        }
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        insert(s, &self.insertion)
    }
}
