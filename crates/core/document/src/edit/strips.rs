//! Edits of strips: levels, outputs, channels, triggers.

use super::EditError;
use super::find::{new_channel, strip_mut, voice_mut, with_new_ids};
use super::intent::Intent;
use super::label::Words;
use super::parts::{Look, Parts, Room, parts};
use crate::session::{DocumentError, Key, LaneTarget, Polarity, Session, Strip, StripKind};
use lane_units::{StripId, StripName, VoiceId};
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
