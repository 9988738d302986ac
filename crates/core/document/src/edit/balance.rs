//! One value of several rows, moved together so that the rows keep their balance.

use super::EditError;
use super::find::strip_mut;
use super::intent::Intent;
use super::label::Words;
use super::parts::{Look, Parts, Room, parts};
use crate::session::{DocumentError, Processor, Session, Strip, limits};
use lane_dsp::{Param, Scale};
use lane_units::{Name, OFF_DB, StripId};
use serde::{Deserialize, Serialize};

/// Which value moves.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
#[serde(tag = "what", rename_all = "snake_case")]
pub enum MovedValue {
    /// Gain in front of the chain, in dB.
    TrimDb,
    /// Gain behind the chain, in dB.
    FaderDb,
    /// Left to right, in %.
    PanPercent,
    /// Mono to wide, in %.
    WidthPercent,
    /// The level of what goes to a return, in dB.
    SendDb {
        /// The return.
        to: StripId,
    },
    /// Left to right of what goes to a return, in %.
    SendPanPercent {
        /// The return.
        to: StripId,
    },
    /// A value of the processors of one kind.
    Processor {
        /// The kind, as documents name it.
        kind: Name,
        /// The value, as the kind declares it: its name; in octaves where it runs by ratio.
        value: Name,
    },
    /// The gain in front of the processors of one kind, in dB.
    InputDb {
        /// The kind, as documents name it.
        kind: Name,
    },
    /// The gain behind the processors of one kind, in dB.
    OutputDb {
        /// The kind, as documents name it.
        kind: Name,
    },
    /// The mix of the processors of one kind, in %.
    MixPercent {
        /// The kind, as documents name it.
        kind: Name,
    },
}

impl MovedValue {
    /// What it is called.
    fn label(&self, words: &Words) -> String {
        let session = words.0;
        let kind = |word: &Name| {
            let all = session.strips.iter().flat_map(|s| &s.chain);
            all.map(|p| &p.settings)
                .find(|s| s.is_called(word.as_str()))
                .map_or("processor", |s| s.name())
                .to_lowercase()
        };
        match self {
            MovedValue::TrimDb => "Trim".into(),
            MovedValue::FaderDb => "Fader".into(),
            MovedValue::PanPercent => "Pan".into(),
            MovedValue::WidthPercent => "Width".into(),
            MovedValue::SendDb { to } => format!("Send to {}", session.strip_name(*to)),
            MovedValue::SendPanPercent { to } => format!("Pan of the send to {}", session.strip_name(*to)),
            MovedValue::Processor { kind: word, .. } => format!("Settings: {}", kind(word)),
            MovedValue::InputDb { kind: word } => format!("Input gain: {}", kind(word)),
            MovedValue::OutputDb { kind: word } => format!("Output gain: {}", kind(word)),
            MovedValue::MixPercent { kind: word } => format!("Mix: {}", kind(word)),
        }
    }
}

impl Parts for MovedValue {
    fn look(&mut self, at: &mut Look) {
        match self {
            MovedValue::SendDb { to } | MovedValue::SendPanPercent { to } => to.look(at),
            MovedValue::TrimDb
            | MovedValue::FaderDb
            | MovedValue::PanPercent
            | MovedValue::WidthPercent
            | MovedValue::Processor { kind: _, value: _ }
            | MovedValue::InputDb { kind: _ }
            | MovedValue::OutputDb { kind: _ }
            | MovedValue::MixPercent { kind: _ } => {}
        }
    }

    fn bounded(&self, _: &Room) -> Result<(), DocumentError> {
        Ok(())
    }
}

/// One number that moves: what it is, and what it may be.
struct Moving {
    value: f64,
    range: (f64, f64),
    /// Stays where it is as long as others move: a fader that is off.
    off: bool,
    by_ratio: bool,
}

impl Moving {
    fn even(value: f64, range: (f64, f64)) -> Self {
        Moving { value, range, off: false, by_ratio: false }
    }

    /// A level that can be off; moved, it stops before it is.
    fn level(value: f64, (least, most): (f64, f64)) -> Self {
        let off = value <= OFF_DB;
        let least = if least <= OFF_DB && !off { OFF_DB + 0.1 } else { least };
        Moving { value, range: (least.min(value), most), off, by_ratio: false }
    }

    fn param(value: f64, param: &Param) -> Self {
        // A value that can be nothing, such as a corner that is off, has no ratio to move by.
        let by_ratio = matches!(param.scale, Scale::Ratio) && value > 0.0 && param.min > 0.0;
        Moving { value, range: (param.min, param.max), off: false, by_ratio }
    }

    /// How far it can go down and up.
    fn room(&self) -> (f64, f64) {
        let (least, most) = self.range;
        match self.by_ratio {
            true => (libm::log2(least / self.value), libm::log2(most / self.value)),
            false => (least - self.value, most - self.value),
        }
    }

    fn moved(&self, by: f64) -> f64 {
        let to = if self.by_ratio { self.value * libm::exp2(by) } else { self.value + by };
        let (least, most) = self.range;
        // What was typed and added up comes out as it would be typed.
        (libm::round(to * 1e6) / 1e6).clamp(least, most)
    }
}

impl MovedValue {
    /// Goes over the numbers that it means on a strip, in a fixed order; what `each` gives takes their place.
    fn each(&self, strip: &mut Strip, each: &mut impl FnMut(Moving) -> f64) {
        let of_kind = |strip: &mut Strip, kind: &Name, each: &mut dyn FnMut(&mut Processor)| {
            strip.chain.iter_mut().filter(|p| p.settings.is_called(kind.as_str())).for_each(each);
        };
        match self {
            MovedValue::TrimDb => strip.trim_db = each(Moving::level(strip.trim_db, limits::TRIM_DB)),
            MovedValue::FaderDb => strip.fader_db = each(Moving::level(strip.fader_db, limits::FADER_DB)),
            MovedValue::PanPercent => strip.pan_percent = each(Moving::even(strip.pan_percent, limits::PAN_PERCENT)),
            MovedValue::WidthPercent => {
                strip.width_percent = each(Moving::even(strip.width_percent, limits::WIDTH_PERCENT));
            }
            MovedValue::SendDb { to } => {
                for send in strip.sends.iter_mut().filter(|s| s.to == *to) {
                    send.level_db = each(Moving::level(send.level_db, limits::FADER_DB));
                }
            }
            MovedValue::SendPanPercent { to } => {
                for send in strip.sends.iter_mut().filter(|s| s.to == *to) {
                    send.pan_percent = each(Moving::even(send.pan_percent, limits::PAN_PERCENT));
                }
            }
            MovedValue::Processor { kind, value } => of_kind(strip, kind, &mut |p| {
                let found = p.settings.values().into_iter().find(|(param, _)| param.name == value.as_str());
                if let Some((param, now)) = found {
                    let to = each(Moving::param(now, param));
                    p.settings.set(param.name, to);
                }
            }),
            MovedValue::InputDb { kind } => {
                of_kind(strip, kind, &mut |p| p.input_db = each(Moving::even(p.input_db, limits::SLOT_DB)));
            }
            MovedValue::OutputDb { kind } => {
                of_kind(strip, kind, &mut |p| p.output_db = each(Moving::even(p.output_db, limits::SLOT_DB)));
            }
            MovedValue::MixPercent { kind } => {
                of_kind(strip, kind, &mut |p| p.mix_percent = each(Moving::even(p.mix_percent, limits::MIX_PERCENT)));
            }
        }
    }
}

/// Moves a value of strips by the same amount, or by what is left where one of them comes to its limit. What is off stays
/// off, unless all are.
pub(super) fn move_values(s: &mut Session, strips: &[StripId], value: &MovedValue, by: f64) -> Result<(), EditError> {
    if !by.is_finite() {
        return Err(EditError::Nothing);
    }
    let mut all: Vec<Moving> = Vec::new();
    for id in strips {
        value.each(strip_mut(s, *id)?, &mut |moving| {
            let now = moving.value;
            all.push(moving);
            now
        });
    }
    let silent = all.iter().all(|m| m.off);
    let moves = |moving: &Moving| silent || !moving.off;
    let rooms = all.iter().filter(|m| moves(m)).map(Moving::room);
    let Some((least, most)) = rooms.reduce(|a, b| (a.0.max(b.0), a.1.min(b.1))) else {
        return Err(EditError::Nothing);
    };
    // A value that stands outside its range already does not hold the others.
    let by = by.clamp(least.min(0.0), most.max(0.0));
    let mut list = all.iter();
    for id in strips {
        value.each(strip_mut(s, *id)?, &mut |now| match list.next() {
            Some(moving) if moves(moving) => moving.moved(by),
            _ => now.value,
        });
    }
    Ok(())
}

/// A value of one or more strips, moved by the same amount, so that they keep their balance. Where one comes to its
/// limit all stop; what is off stays off, unless all are.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct MoveValues {
    /// The strips.
    pub strips: Vec<StripId>,
    /// Which value.
    pub value: MovedValue,
    /// In the value's unit; in octaves where it runs by ratio.
    pub by: f64,
}
parts!(MoveValues { strips, value, by });

impl Intent for MoveValues {
    fn label(&self, words: &Words) -> String {
        format!("{} of {}", self.value.label(words), words.strips(&self.strips))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        move_values(s, &self.strips, &self.value, self.by)
    }
}
