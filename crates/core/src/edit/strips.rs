//! Edits of strips: levels, outputs, channels and buses.

use super::{EditError, lanes::new_channel};
use crate::session::{Polarity, Session, Strip, StripKind};
use crate::units::{StripId, VoiceId};
use serde::{Deserialize, Serialize};

/// A change of one value of a strip.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "what", content = "to", rename_all = "snake_case")]
pub enum StripChange {
    TrimDb(f64),
    Polarity(Polarity),
    FaderDb(f64),
    PanPercent(f64),
    WidthPercent(f64),
    Mute(bool),
    Solo(bool),
}

fn strip_mut(s: &mut Session, id: StripId) -> Result<&mut Strip, EditError> {
    s.strips.iter_mut().find(|x| x.id == id).ok_or(EditError::Gone { what: format!("strip {}", id.0) })
}

fn wanted(s: &Session, id: StripId, kind: StripKind, wanted: &'static str) -> Result<Strip, EditError> {
    let strip = s.strip(id).ok_or(EditError::Gone { what: format!("strip {}", id.0) })?;
    if strip.kind == kind { Ok(strip.clone()) } else { Err(EditError::WrongKind { name: s.strip_name(id), wanted }) }
}

pub(super) fn rename(s: &mut Session, id: StripId, name: &str) -> Result<(), EditError> {
    strip_mut(s, id)?.name = name.trim().to_owned();
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
            StripChange::FaderDb(db) => strip.fader_db = db,
            StripChange::PanPercent(percent) => strip.pan_percent = percent,
            StripChange::WidthPercent(percent) => strip.width_percent = percent,
            StripChange::Mute(mute) => strip.mute = mute,
            StripChange::Solo(solo) => strip.solo = solo,
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
        let channel = super::lanes::voice_mut(s, *id)?.channel;
        if s.voices_on(channel).count() < 2 {
            continue;
        }
        let old = wanted(s, channel, StripKind::Channel, "channel")?;
        let own = new_channel(s, old.output);
        // The voice sounds as before: it takes the shared channel's settings with it.
        *strip_mut(s, own)? = Strip { id: own, name: String::new(), ..old };
        super::lanes::voice_mut(s, *id)?.channel = own;
    }
    Ok(())
}

pub(super) fn share_channel(s: &mut Session, voices: &[VoiceId], channel: StripId) -> Result<(), EditError> {
    wanted(s, channel, StripKind::Channel, "channel")?;
    for id in voices {
        super::lanes::voice_mut(s, *id)?.channel = channel;
    }
    drop_empty_channels(s);
    Ok(())
}

/// Removes channels without a voice, also from the stem plan.
pub(super) fn drop_empty_channels(s: &mut Session) {
    let used: Vec<StripId> = s.voices.iter().map(|v| v.channel).collect();
    s.strips.retain(|x| x.kind != StripKind::Channel || used.contains(&x.id));
    forget_missing_in_plan(s);
}

fn forget_missing_in_plan(s: &mut Session) {
    let ids: Vec<StripId> = s.strips.iter().map(|x| x.id).collect();
    let plan = &mut s.stem_plan;
    plan.without.retain(|id| ids.contains(id));
    plan.with_buses.retain(|id| ids.contains(id));
    plan.taps.retain(|c| ids.contains(&c.strip));
}

pub(super) fn new_bus(s: &mut Session, name: &str, feeders: &[StripId]) -> Result<(), EditError> {
    let first = match feeders.first() {
        Some(id) => s.strip(*id).ok_or(EditError::Gone { what: format!("strip {}", id.0) })?.output,
        None => None,
    };
    let output = first.or_else(|| s.default_output());
    let id = StripId(s.take_id());
    let at = s.strips.iter().position(|x| x.kind == StripKind::Main).unwrap_or(s.strips.len());
    // Buses stand before the mix bus, which stands before main, so that the board reads along the signal.
    let at = s.default_output().and_then(|mix| s.strips.iter().position(|x| x.id == mix)).unwrap_or(at).min(at.max(1));
    s.strips.insert(at, Strip::new(id, StripKind::Bus, name.trim(), output));
    if feeders.is_empty() { Ok(()) } else { set_output(s, feeders, Some(id)) }
}

/// Strips that go to one bus.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct BusGroup {
    /// A bus of this name is used where there is one.
    pub name: String,
    pub strips: Vec<StripId>,
}

/// A bus for each group, made where it is missing, on the mix bus.
pub(super) fn group_on_buses(s: &mut Session, groups: &[BusGroup]) -> Result<(), EditError> {
    if groups.is_empty() {
        return Err(EditError::Nothing);
    }
    for group in groups {
        let name = group.name.trim();
        let there = s.strips.iter().find(|x| x.kind == StripKind::Bus && x.name.eq_ignore_ascii_case(name));
        let bus = match there.map(|x| x.id) {
            Some(bus) => bus,
            None => {
                new_bus(s, name, &[])?;
                let made = s.strips.iter().rfind(|x| x.kind == StripKind::Bus && x.name == name);
                made.map(|x| x.id).ok_or(EditError::Nothing)?
            }
        };
        set_output(s, &group.strips, Some(bus))?;
    }
    Ok(())
}

pub(super) fn remove_bus(s: &mut Session, bus: StripId) -> Result<(), EditError> {
    let old = wanted(s, bus, StripKind::Bus, "bus")?;
    for strip in s.strips.iter_mut().filter(|x| x.output == Some(bus)) {
        strip.output = old.output;
    }
    s.strips.retain(|x| x.id != bus);
    forget_missing_in_plan(s);
    Ok(())
}
