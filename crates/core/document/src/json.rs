//! Documents, edits and what follows from them as JSON. They are read and written here alone, so that it is compiled once
//! and not again in every crate that does.

use crate::checks::{Check, Trace, TraceQuestion};
use crate::compare::Difference;
use crate::edit::{Applied, Done, Edit, Incoming, Insertion, Made, NotePlaces};
use crate::ready::Ready;
use crate::session::{
    AssetRef, Header, KeptTake, Part, Patch, Pattern, Processor, Reference, Section, Session, StemPlan, Strip, Take,
    Voice,
};
use lane_dsp::{KindInfo, Settings};
use lane_units::CheckKey;

/// What is wrong with some JSON, and where.
pub type JsonError = serde_json::Error;

/// What is read from JSON.
pub trait FromJson: Sized {
    /// # Errors
    /// [`JsonError`] where it is none, or not of this.
    fn from_json(json: &[u8]) -> Result<Self, JsonError>;
}

/// What is written as JSON.
pub trait ToJson {
    /// # Errors
    /// [`JsonError`] where a key is no text, which none here is.
    fn to_json(&self) -> Result<Vec<u8>, JsonError>;

    /// The same as text.
    ///
    /// # Errors
    /// As with `to_json`.
    fn to_json_text(&self) -> Result<String, JsonError> {
        use serde::de::Error;
        String::from_utf8(self.to_json()?).map_err(JsonError::custom)
    }
}

macro_rules! read {
    ($($what:ty),+ $(,)?) => {
        $(impl FromJson for $what {
            fn from_json(json: &[u8]) -> Result<Self, JsonError> {
                serde_json::from_slice(json)
            }
        })+
    };
}

macro_rules! written {
    ($($what:ty),+ $(,)?) => {
        $(impl ToJson for $what {
            fn to_json(&self) -> Result<Vec<u8>, JsonError> {
                serde_json::to_vec(self)
            }
        })+
    };
}

read! { Session, Edit, Vec<Edit>, Patch, Take, Insertion, Vec<Incoming>, Vec<Processor>, Settings, TraceQuestion }

written! {
    Session, Edit, Vec<Edit>, Patch, Applied, Done, Vec<Made>, Take, Vec<Processor>, [Processor], NotePlaces, Vec<Difference>, Vec<Check>, Trace, Vec<KindInfo>, Ready,
    // Pieces.
    Header, AssetRef, Voice, Strip, Pattern, Part, KeptTake, Section, StemPlan, Vec<CheckKey>, Vec<Reference>,
}

/// A document laid out for people who read it.
///
/// # Errors
/// As with [`ToJson::to_json`].
pub fn pretty(session: &Session) -> Result<Vec<u8>, JsonError> {
    serde_json::to_vec_pretty(session)
}
