//! Edits of strips: levels, outputs, sends, channels, triggers, buses and returns.

use super::EditError;
use super::find::{new_channel, strip_mut, voice_mut, with_new_ids};
use super::intent::Intent;
use super::label::Words;
use super::parts::{Listed, Look, Parts, Room, parts};
use crate::session::{DocumentError, Key, LaneTarget, Polarity, Processor, Session, Strip, StripKind, StripSend};
use lane_units::{Name, Names, StripId, StripName, VoiceId};
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// A change of one value of a strip.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "what", content = "to", rename_all = "snake_case")]
pub enum StripChange {
    /// Gain in front of the chain, in dB.
    TrimDb(f64),
    /// The sign of the sound.
    Polarity(Polarity),
    /// Later or earlier, in frames.
    OffsetFrames(i32),
    /// Gain behind the chain, in dB.
    FaderDb(f64),
    /// Left to right, in %.
    PanPercent(f64),
    /// Mono to wide, in %.
    WidthPercent(f64),
    /// Whether it is silent.
    Mute(bool),
    /// Whether only it and its like are heard.
    Solo(bool),
    /// Whether it goes on while others are soloed.
    SoloSafe(bool),
    /// Of its own, or the session's.
    Target(Option<LaneTarget>),
}

impl StripChange {
    fn label(&self) -> &'static str {
        match self {
            StripChange::TrimDb(_) => "Trim",
            StripChange::Polarity(_) => "Polarity",
            StripChange::OffsetFrames(_) => "Offset",
            StripChange::FaderDb(_) => "Fader",
            StripChange::PanPercent(_) => "Pan",
            StripChange::WidthPercent(_) => "Width",
            StripChange::Mute(true) => "Mute",
            StripChange::Mute(false) => "Unmute",
            StripChange::Solo(true) => "Solo",
            StripChange::Solo(false) => "Solo off",
            StripChange::SoloSafe(_) => "Solo safe",
            StripChange::Target(_) => "Target",
        }
    }
}

impl Parts for StripChange {
    fn look(&mut self, _: &mut Look) {
        match self {
            StripChange::TrimDb(_)
            | StripChange::Polarity(_)
            | StripChange::OffsetFrames(_)
            | StripChange::FaderDb(_)
            | StripChange::PanPercent(_)
            | StripChange::WidthPercent(_)
            | StripChange::Mute(_)
            | StripChange::Solo(_)
            | StripChange::SoloSafe(_)
            | StripChange::Target(_) => {}
        }
    }

    fn bounded(&self, _: &Room) -> Result<(), DocumentError> {
        Ok(())
    }
}

pub(super) fn rename(s: &mut Session, id: StripId, name: &StripName) -> Result<(), EditError> {
    strip_mut(s, id)?.name = name.clone();
    Ok(())
}

pub(super) fn set(s: &mut Session, strips: &[StripId], change: &StripChange) -> Result<(), EditError> {
    if strips.is_empty() {
        return Err(EditError::Nothing);
    }
    for id in strips {
        let strip = strip_mut(s, *id)?;
        match *change {
            StripChange::TrimDb(db) => strip.trim_db = db,
            StripChange::Polarity(polarity) => strip.polarity = polarity,
            StripChange::OffsetFrames(frames) => strip.offset_frames = frames,
            StripChange::FaderDb(db) => strip.fader_db = db,
            StripChange::PanPercent(percent) => strip.pan_percent = percent,
            StripChange::WidthPercent(percent) => strip.width_percent = percent,
            StripChange::Mute(mute) => strip.mute = mute,
            StripChange::Solo(solo) => strip.solo = solo,
            StripChange::SoloSafe(safe) => strip.solo_safe = safe,
            StripChange::Target(target) => strip.target = target,
        }
    }
    Ok(())
}

pub(super) fn set_output(s: &mut Session, strips: &[StripId], output: Option<StripId>) -> Result<(), EditError> {
    if strips.is_empty() {
        return Err(EditError::Nothing);
    }
    for id in strips {
        strip_mut(s, *id)?.output = output;
    }
    Ok(())
}

pub(super) fn own_channels(s: &mut Session, voices: &[VoiceId]) -> Result<(), EditError> {
    if voices.is_empty() {
        return Err(EditError::Nothing);
    }
    for id in voices {
        let channel = voice_mut(s, *id)?.channel;
        if s.voices_on(channel).count() < 2 {
            continue;
        }
        // The voice sounds as before: it takes the shared channel's settings with it.
        let own = copy_of_channel(s, channel)?;
        voice_mut(s, *id)?.channel = own;
    }
    Ok(())
}

/// A new channel with the settings of another, nameless, its processors under ids of their own.
pub(super) fn copy_of_channel(s: &mut Session, channel: StripId) -> Result<StripId, EditError> {
    let old = strip_mut(s, channel)?.clone();
    let own = new_channel(s, old.output);
    let chain = with_new_ids(s, old.chain.clone());
    *strip_mut(s, own)? = Strip { id: own, name: StripName::default(), chain, ..old };
    Ok(own)
}

pub(super) fn share_channel(s: &mut Session, voices: &[VoiceId], channel: StripId) -> Result<(), EditError> {
    if !strip_mut(s, channel)?.takes_voices() {
        return Err(EditError::WrongKind { name: s.strip_name(channel), wanted: "channel" });
    }
    for id in voices {
        voice_mut(s, *id)?.channel = channel;
    }
    drop_empty_channels(s);
    Ok(())
}

/// Removes channels and triggers without a voice, and what names them.
pub(super) fn drop_empty_channels(s: &mut Session) {
    let used: HashSet<StripId> = s.voices.iter().map(|v| v.channel).collect();
    s.strips.retain(|x| !x.takes_voices() || used.contains(&x.id));
    forget_missing(s);
}

/// Takes strips that are gone out of sends, keys and the stem plan. A key without a source stays, silent, so
/// that nothing starts to listen to itself.
fn forget_missing(s: &mut Session) {
    let ids: HashSet<StripId> = s.strips.iter().map(|x| x.id).collect();
    let gone = |id: StripId| !ids.contains(&id);
    let names_one = |strip: &Strip| {
        let keys = strip.chain.iter().filter_map(|p| p.key);
        strip.sends.iter().any(|send| gone(send.to)) || keys.flat_map(Key::sources).any(gone)
    };
    for strip in s.strips.iter_mut().filter(|strip| names_one(strip)) {
        strip.sends.retain(|send| ids.contains(&send.to));
        for key in strip.chain.iter_mut().filter_map(|p| p.key.as_mut()) {
            *key = key.with_sources(|source| ids.contains(&source).then_some(source));
        }
    }
    let plan = &mut s.stem_plan;
    plan.without.retain(|id| ids.contains(id));
    plan.with_buses.retain(|id| ids.contains(id));
    plan.taps.retain(|c| ids.contains(&c.strip));
}

/// The same send on each of some strips, instead of what they send there.
pub(super) fn set_send(s: &mut Session, strips: &[StripId], send: &StripSend) -> Result<(), EditError> {
    if strips.is_empty() {
        return Err(EditError::Nothing);
    }
    for id in strips {
        let sends = &mut strip_mut(s, *id)?.sends;
        match sends.iter_mut().find(|old| old.to == send.to) {
            Some(old) => *old = *send,
            None => sends.push(*send),
        }
    }
    Ok(())
}

pub(super) fn remove_sends(s: &mut Session, strips: &[StripId], to: StripId) -> Result<(), EditError> {
    if strips.is_empty() {
        return Err(EditError::Nothing);
    }
    strips.iter().try_for_each(|id| strip_mut(s, *id).map(|strip| strip.sends.retain(|send| send.to != to)))
}

/// Voices as triggers, each on a strip that it has for itself, or as lanes again.
pub(super) fn set_triggers(s: &mut Session, voices: &[VoiceId], trigger: bool) -> Result<(), EditError> {
    own_channels(s, voices)?;
    for id in voices {
        let channel = voice_mut(s, *id)?.channel;
        let output = Some(s.mix_bus);
        let strip = strip_mut(s, channel)?;
        if trigger {
            strip.kind = StripKind::Trigger;
            (strip.output, strip.mute, strip.solo) = (None, false, false);
            strip.sends.clear();
        } else if strip.kind == StripKind::Trigger {
            (strip.kind, strip.output) = (StripKind::Channel, output);
        }
    }
    Ok(())
}

/// Another bus, or main, where the mix comes together and new rows go.
pub(super) fn set_mix_bus(s: &mut Session, strip: StripId) -> Result<(), EditError> {
    if !strip_mut(s, strip)?.takes_outputs() {
        return Err(EditError::WrongKind { name: s.strip_name(strip), wanted: "bus" });
    }
    s.mix_bus = strip;
    Ok(())
}

/// The name, with a number where a strip or a voice has it.
fn free_name(s: &Session, name: &Name) -> Name {
    let strips = s.strips.iter().map(|x| x.name.as_str());
    Names::of(strips.chain(s.voices.iter().map(|v| v.name.as_str()))).take(name)
}

/// A return on the mix bus, silent until its fader is raised if wished, with sends from strips at 0 dB.
pub(super) fn new_return(s: &mut Session, name: &Name, feeders: &[StripId], silent: bool) -> Result<(), EditError> {
    let id = StripId(s.take_id());
    let at = s.strips.iter().position(|x| x.kind == StripKind::Bus).unwrap_or(s.strips.len());
    let name = free_name(s, name);
    let mut made = Strip::new(id, StripKind::Return, name.into(), Some(s.mix_bus));
    if silent {
        made.fader_db = lane_units::OFF_DB;
    }
    s.strips.insert(at, made.into());
    if feeders.is_empty() { Ok(()) } else { set_send(s, feeders, &StripSend::new(id)) }
}

/// A return with processors, off, that rows feed at full level before their faders.
pub(super) fn new_path(
    s: &mut Session,
    name: &Name,
    feeders: &[StripId],
    processors: &[Processor],
) -> Result<(), EditError> {
    if feeders.is_empty() || processors.is_empty() {
        return Err(EditError::Nothing);
    }
    let id = StripId(s.next_id);
    new_return(s, name, &[], true)?;
    let chain = with_new_ids(s, processors.to_vec());
    let main = s.main().map(|m| m.id);
    let mix_bus = s.mix_bus;
    let made = strip_mut(s, id)?;
    made.chain = chain;
    if feeders.contains(&mix_bus) {
        made.output = main;
    }
    set_send(s, feeders, &StripSend::parallel(id))
}

pub(super) fn new_bus(s: &mut Session, name: &Name, feeders: &[StripId]) -> Result<(), EditError> {
    let first = match feeders.first() {
        Some(id) => s.strip(*id).ok_or(EditError::Gone { what: format!("strip {}", id.0) })?.output,
        None => None,
    };
    let output = first.unwrap_or(s.mix_bus);
    let id = StripId(s.take_id());
    let at = s.strips.iter().position(|x| x.kind == StripKind::Main).unwrap_or(s.strips.len());
    // Buses stand before the mix bus, which stands before main, so that the board reads along the signal.
    let mix = s.strips.iter().position(|x| x.id == s.mix_bus && x.kind == StripKind::Bus);
    let at = mix.unwrap_or(at).min(at.max(1));
    let name = free_name(s, name);
    s.strips.insert(at, Strip::new(id, StripKind::Bus, name.into(), Some(output)).into());
    if feeders.is_empty() { Ok(()) } else { set_output(s, feeders, Some(id)) }
}

/// Strips that go to one bus.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct BusGroup {
    /// A bus of this name is used where there is one.
    pub name: Name,
    /// What goes to the bus.
    pub strips: Vec<StripId>,
}

parts!(BusGroup { name, strips });

impl Listed for BusGroup {
    fn listed(all: &[Self], room: &Room) -> Result<(), DocumentError> {
        room.rows(all.len())
    }
}

/// A bus for each group, made where it is missing, on the mix bus.
pub(super) fn group_on_buses(s: &mut Session, groups: &[BusGroup]) -> Result<(), EditError> {
    if groups.is_empty() {
        return Err(EditError::Nothing);
    }
    for group in groups {
        let name = &group.name;
        let there = s.strips.iter().find(|x| x.kind == StripKind::Bus && x.name.eq_ignore_ascii_case(name));
        let bus = match there.map(|x| x.id) {
            Some(bus) => bus,
            None => {
                new_bus(s, name, &[])?;
                let made = s.strips.iter().rfind(|x| x.kind == StripKind::Bus && x.name == **name);
                made.map(|x| x.id).ok_or(EditError::Nothing)?
            }
        };
        set_output(s, &group.strips, Some(bus))?;
    }
    Ok(())
}

/// Takes a bus or a return out; what went to it goes on to `feeders_to`.
pub(super) fn remove_strip(s: &mut Session, strip: StripId, feeders_to: Option<StripId>) -> Result<(), EditError> {
    let kind = strip_mut(s, strip)?.kind;
    if !matches!(kind, StripKind::Bus | StripKind::Return) {
        return Err(EditError::WrongKind { name: s.strip_name(strip), wanted: "bus or return" });
    }
    for feeder in s.strips.iter_mut().filter(|x| x.output == Some(strip)) {
        feeder.output = feeders_to;
    }
    s.strips.retain(|x| x.id != strip);
    if s.mix_bus == strip {
        let main = s.main().map(|m| m.id);
        s.mix_bus = feeders_to.or(main).unwrap_or(strip);
    }
    forget_missing(s);
    Ok(())
}

/// A strip under another name; a channel without one is called after its voices.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct RenameStrip {
    /// The strip.
    pub strip: StripId,
    /// Its new name.
    pub name: StripName,
}
parts!(RenameStrip { strip, name });

impl Intent for RenameStrip {
    fn label(&self, words: &Words) -> String {
        let strip = words.strip(self.strip);
        if self.name.is_empty() {
            format!("Call {strip} after its voices")
        } else {
            format!("Rename {strip} to {}", self.name)
        }
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        rename(s, self.strip, &self.name)
    }
}

/// The same change on one or more strips.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetStrips {
    /// The strips.
    pub strips: Vec<StripId>,
    /// What changes.
    pub change: StripChange,
}
parts!(SetStrips { strips, change });

impl Intent for SetStrips {
    fn label(&self, words: &Words) -> String {
        format!("{} of {}", self.change.label(), words.strips(&self.strips))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set(s, &self.strips, &self.change)
    }
}

/// Where strips go; nothing is allowed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetOutput {
    /// The strips.
    pub strips: Vec<StripId>,
    /// Where they go.
    pub output: Option<StripId>,
}
parts!(SetOutput { strips, output });

impl Intent for SetOutput {
    fn label(&self, words: &Words) -> String {
        let to = self.output.map_or_else(|| "nothing".into(), |to| words.strip(to));
        format!("{} to {to}", words.strips(&self.strips))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set_output(s, &self.strips, self.output)
    }
}

/// Each of the voices on a channel that it has for itself.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct OwnChannels {
    /// The voices.
    pub voices: Vec<VoiceId>,
}
parts!(OwnChannels { voices });

impl Intent for OwnChannels {
    fn label(&self, words: &Words) -> String {
        format!("Own channels for {}", words.voices(&self.voices))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        own_channels(s, &self.voices)
    }
}

/// Voices onto a channel that exists.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct ShareChannel {
    /// The voices.
    pub voices: Vec<VoiceId>,
    /// The channel or trigger.
    pub channel: StripId,
}
parts!(ShareChannel { voices, channel });

impl Intent for ShareChannel {
    fn label(&self, words: &Words) -> String {
        format!("{} onto the channel of {}", words.voices(&self.voices), words.strip(self.channel))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        share_channel(s, &self.voices, self.channel)
    }
}

/// A new bus that takes the strips and goes where the first of them went; numbered where its name is taken.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct NewBus {
    /// What it is called.
    pub name: Name,
    /// What goes to it.
    pub feeders: Vec<StripId>,
}
parts!(NewBus { name, feeders });

impl Intent for NewBus {
    fn label(&self, _: &Words) -> String {
        format!("New bus {}", self.name)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        new_bus(s, &self.name, &self.feeders)
    }
}

/// Buses for groups of strips in one step, made where they are missing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct GroupOnBuses {
    /// Buses with what goes to them.
    pub groups: Vec<BusGroup>,
}
parts!(GroupOnBuses { groups });

impl Intent for GroupOnBuses {
    fn label(&self, _: &Words) -> String {
        "Buses by family".into()
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        group_on_buses(s, &self.groups)
    }
}

/// A new return with processors, off until its fader is raised; rows feed it at full level before their faders, with
/// their width and pan. On the mix bus, or on main where the mix bus feeds it; numbered where its name is taken.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct NewPath {
    /// What it is called.
    pub name: Name,
    /// What feeds it.
    pub feeders: Vec<StripId>,
    /// As they are given; they get ids of their own.
    pub processors: Vec<Processor>,
}
parts!(NewPath { name, feeders, processors });

impl Intent for NewPath {
    fn label(&self, _: &Words) -> String {
        format!("New parallel path {}", self.name)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        new_path(s, &self.name, &self.feeders, &self.processors)
    }
}

/// A new return on the mix bus, with sends from strips at 0 dB after their faders; numbered where its name is taken.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct NewReturn {
    /// What it is called.
    pub name: Name,
    /// What sends to it.
    pub feeders: Vec<StripId>,
    /// With its fader off, to be raised by ear.
    pub silent: bool,
}
parts!(NewReturn { name, feeders, silent });

impl Intent for NewReturn {
    fn label(&self, _: &Words) -> String {
        format!("New return {}", self.name)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        new_return(s, &self.name, &self.feeders, self.silent)
    }
}

/// A bus or a return; what went to it goes on to another bus, to main, or to nothing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct RemoveStrip {
    /// That to go.
    pub strip: StripId,
    /// Where what went to it goes on to.
    pub feeders_to: Option<StripId>,
}
parts!(RemoveStrip { strip, feeders_to });

impl Intent for RemoveStrip {
    fn label(&self, words: &Words) -> String {
        format!("Remove {}", words.strip(self.strip))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        remove_strip(s, self.strip, self.feeders_to)
    }
}

/// Another bus, or main, where the mix comes together and new rows go.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetMixBus {
    /// A bus, or main.
    pub strip: StripId,
}
parts!(SetMixBus { strip });

impl Intent for SetMixBus {
    fn label(&self, words: &Words) -> String {
        format!("{} as mix bus", words.strip(self.strip))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set_mix_bus(s, self.strip)
    }
}

/// The same send on one or more strips, instead of what they send there.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetSend {
    /// The strips that send.
    pub strips: Vec<StripId>,
    /// Where to, and how.
    pub send: StripSend,
}
parts!(SetSend { strips, send });

impl Intent for SetSend {
    fn label(&self, words: &Words) -> String {
        words.send(&self.strips, self.send.to)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set_send(s, &self.strips, &self.send)
    }
}

/// What strips send to a return, taken out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct RemoveSends {
    /// The strips that send.
    pub strips: Vec<StripId>,
    /// The return.
    pub to: StripId,
}
parts!(RemoveSends { strips, to });

impl Intent for RemoveSends {
    fn label(&self, words: &Words) -> String {
        words.send(&self.strips, self.to)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        remove_sends(s, &self.strips, self.to)
    }
}

/// Lanes as triggers that only feed keys, or as lanes that are heard again.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetTriggers {
    /// The voices.
    pub voices: Vec<VoiceId>,
    /// Whether they are triggers now.
    pub trigger: bool,
}
parts!(SetTriggers { voices, trigger });

impl Intent for SetTriggers {
    fn label(&self, words: &Words) -> String {
        let kind = if self.trigger { "trigger" } else { "lane" };
        format!("{} as {kind}", words.voices(&self.voices))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set_triggers(s, &self.voices, self.trigger)
    }
}
