//! Recordings that the mix is held against.

use super::EditError;
use super::intent::Intent;
use super::label::Words;
use super::lanes::add_assets;
use super::parts::parts;
use crate::session::{AssetRef, Reference, Session};
use lane_units::{Name, ReferenceId};
use serde::{Deserialize, Serialize};

/// All of it, going round by itself.
pub(super) fn add(s: &mut Session, name: &Name, asset: &AssetRef) -> Result<(), EditError> {
    add_assets(s, [asset]);
    let id = ReferenceId(s.take_id());
    s.references.push(Reference {
        id,
        name: name.clone(),
        asset: asset.id.clone(),
        follows: false,
        start_bar: 0,
        from_frame: 0,
        to_frame: asset.frames,
    });
    Ok(())
}

fn gone(id: ReferenceId) -> EditError {
    EditError::Gone { what: format!("reference {}", id.0) }
}

/// The recording itself stays.
pub(super) fn set(s: &mut Session, reference: &Reference) -> Result<(), EditError> {
    let found = s.references.iter_mut().find(|r| r.id == reference.id).ok_or_else(|| gone(reference.id))?;
    *found = Reference { asset: found.asset.clone(), ..reference.clone() };
    Ok(())
}

pub(super) fn remove(s: &mut Session, id: ReferenceId) -> Result<(), EditError> {
    if s.reference(id).is_none() {
        return Err(gone(id));
    }
    s.references.retain(|r| r.id != id);
    Ok(())
}

/// A recording that the mix is held against; it never reaches main or a stem.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct AddReference {
    /// What it is called.
    pub name: Name,
    /// Its sound, added where it is new.
    pub asset: AssetRef,
}
parts!(AddReference { name, asset });

impl Intent for AddReference {
    fn label(&self, _: &Words) -> String {
        format!("Reference {}", self.name)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        add(s, &self.name, &self.asset)
    }
}

/// Another name of a reference, other frames of it, or another way to go along; its sound stays.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct SetReference {
    /// As it is to be.
    pub reference: Reference,
}
parts!(SetReference { reference });

impl Intent for SetReference {
    fn label(&self, _: &Words) -> String {
        format!("Change reference {}", self.reference.name)
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        set(s, &self.reference)
    }
}

/// A reference is no longer held against.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS, schemars::JsonSchema))]
pub struct RemoveReference {
    /// Which.
    pub reference: ReferenceId,
}
parts!(RemoveReference { reference });

impl Intent for RemoveReference {
    fn label(&self, words: &Words) -> String {
        format!("Remove reference {}", words.0.reference(self.reference).map_or("", |r| &r.name))
    }

    fn apply(&self, s: &mut Session) -> Result<(), EditError> {
        remove(s, self.reference)
    }
}
