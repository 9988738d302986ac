//! Values of a processor that were moved, and the rest as it is. Values are told apart by their names as documents write them,
//! so that all kinds, bands and choices are among them.

use lane_dsp::Settings;
use serde::{Deserialize, Serialize};
use serde_json::Value;

/// Settings as somebody had them before and after: what differs between the two is what was moved.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct Moved {
    /// Before.
    pub from: Settings,
    /// After.
    pub to: Settings,
}

/// Settings with what differs between two others of their kind taken over from the second, value by value; a list whose length
/// differs is one value.
///
/// # Errors
/// Where they are of other kinds.
pub(super) fn merged(now: &Settings, from: &Settings, to: &Settings) -> Result<Settings, serde_json::Error> {
    let mut merged = serde_json::to_value(now)?;
    merge(&mut merged, &serde_json::to_value(from)?, serde_json::to_value(to)?);
    serde_json::from_value(merged)
}

fn merge(now: &mut Value, from: &Value, to: Value) {
    match (now, from, to) {
        (_, from, to) if *from == to => {}
        (Value::Object(now), Value::Object(from), Value::Object(to)) => {
            for (name, value) in to {
                match now.get_mut(&name) {
                    Some(now) => merge(now, from.get(&name).unwrap_or(&Value::Null), value),
                    None => drop(now.insert(name, value)),
                }
            }
        }
        (Value::Array(now), Value::Array(from), Value::Array(to))
            if now.len() == to.len() && from.len() == to.len() =>
        {
            for ((now, from), to) in now.iter_mut().zip(from).zip(to) {
                merge(now, from, to);
            }
        }
        (now, _, to) => *now = to,
    }
}
