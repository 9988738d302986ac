//! What an edit did.

use crate::session::{Patch, Session, Thing};
use serde::{Deserialize, Serialize};

/// An edit as it went through.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Applied {
    /// From the document before to the one after.
    pub there: Patch,
    /// And back.
    pub back: Patch,
    /// What was done, in a few words.
    pub label: String,
    /// What was made, in the order of ids.
    pub made: Vec<Made>,
}

/// An edit as it went through, for whoever made it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Done {
    /// What it did.
    #[serde(flatten)]
    pub applied: Applied,
    /// What somebody had made that went with it though it is not what it is for, in a few words each.
    pub lost: Vec<String>,
}

/// Something that an edit made.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Made {
    /// What it is.
    pub thing: Thing,
    /// Its id.
    pub id: u32,
}

/// What stands in a session under an id from `from` on.
pub(super) fn made(s: &Session, from: u32) -> Vec<Made> {
    let mut made: Vec<Made> = s.ids().filter(|(_, id)| *id >= from).map(|(thing, id)| Made { thing, id }).collect();
    made.sort_by_key(|m| m.id);
    made
}
