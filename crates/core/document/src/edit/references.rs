//! Recordings that the mix is held against.

use super::EditError;
use super::lanes::add_assets;
use crate::session::{AssetRef, Reference, Session};
use lane_units::{Name, ReferenceId};

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
