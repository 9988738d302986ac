//! What strips send to returns.

use super::EditError;
use super::find::strip_mut;
use super::intent::Intent;
use super::label::Words;
use super::parts::parts;
use crate::session::{Session, StripSend};
use lane_units::StripId;
use serde::{Deserialize, Serialize};

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
