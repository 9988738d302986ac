//! Buses, returns and parallel paths: made, and the one where the mix comes together.

use super::EditError;
use super::find::{strip_mut, with_new_ids};
use super::intent::Intent;
use super::label::Words;
use super::parts::{Listed, Room, parts};
use super::sends::set_send;
use super::strips::set_output;
use crate::session::{DocumentError, Processor, Session, Strip, StripKind, StripSend};
use lane_units::{Name, Names, StripId};
use serde::{Deserialize, Serialize};

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
