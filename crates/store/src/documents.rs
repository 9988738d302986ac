//! Stored documents: read, put right where an older program let something through, changed. Plain computation on the
//! caller's thread; no connection is held meanwhile.

use crate::StoreError;
use lane_core::edit::{self, Edit, Made};
use lane_core::session::{Patch, Session};
use lane_core::units::repairing;
use serde::de::DeserializeOwned;
use uuid::Uuid;

/// How a document of today begins; others are brought up to date as they are read.
const TODAY: &str = "{\"schema\":4,";

/// A way along the steps of a session.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Way {
    Undo,
    Redo,
}

/// A step that can be undone, or done again.
#[derive(Debug, Clone, sqlx::FromRow)]
pub struct Step {
    pub id: Uuid,
    pub label: String,
    /// Patches, JSON.
    pub there: String,
    pub back: String,
}

/// A session as it is kept. Its document is read by [`crate::documents`].
#[derive(Debug, Clone, sqlx::FromRow)]
pub struct Kept {
    pub id: Uuid,
    /// JSON.
    pub document: String,
    pub revision: i64,
    /// Renders started so far.
    pub renders_started: i32,
}

/// Whether a stored document is one of today, which can be passed on as it stands.
pub fn is_of_today(json: &str) -> bool {
    json.starts_with(TODAY)
}

/// Reads something that was stored, putting right what would be refused today.
pub(crate) fn read<T: DeserializeOwned>(json: &str) -> Result<(T, Vec<String>), StoreError> {
    let (value, remarks) = repairing(|| serde_json::from_str(json));
    Ok((value?, remarks))
}

/// Reads a stored document, with a sentence for everything that was put right.
///
/// # Errors
/// [`StoreError::Document`] where it is no document at all.
pub fn read_session(json: &str) -> Result<(Session, Vec<String>), StoreError> {
    let (mut session, mut remarks) = read::<Session>(json)?;
    remarks.extend(session.settle());
    Ok((session, remarks))
}

/// A change that is computed and waits to be written.
#[derive(Debug)]
pub struct Prepared {
    pub(crate) id: Uuid,
    pub(crate) base: i64,
    pub(crate) row: Row,
    pub(crate) kind: Kind,
    pub(crate) patch: String,
    pub(crate) label: String,
    pub(crate) made: String,
}

#[derive(Debug)]
pub(crate) enum Kind {
    /// With the way back.
    Edit {
        back: String,
    },
    Walk {
        way: Way,
        step: Uuid,
    },
}

/// A document as it is written, with what the list of sessions shows of it.
#[derive(Debug)]
pub(crate) struct Row {
    pub document: String,
    pub title: String,
    pub voices: i32,
    pub tempo_bpm: f64,
    pub audio_bytes: i64,
}

impl Row {
    pub(crate) fn of(session: &Session) -> Result<Self, StoreError> {
        Ok(Row {
            document: serde_json::to_string(session)?,
            title: session.header.title.to_string(),
            voices: session.voices.len() as i32,
            tempo_bpm: session.header.tempo_bpm.bpm(),
            audio_bytes: session.audio_bytes() as i64,
        })
    }
}

/// Computes an edit on a document as it stands.
///
/// * `id` – what its author knows the edit by.
///
/// # Errors
/// [`StoreError::Edit`] where the core refuses.
pub fn prepare_edit(kept: &Kept, id: Uuid, wanted: &Edit) -> Result<Prepared, StoreError> {
    let (mut session, _) = read_session(&kept.document)?;
    let applied = edit::apply(&mut session, wanted)?;
    Ok(Prepared {
        id,
        base: kept.revision,
        row: Row::of(&session)?,
        kind: Kind::Edit { back: serde_json::to_string(&applied.back)? },
        patch: serde_json::to_string(&applied.there)?,
        label: applied.label,
        made: serde_json::to_string(&applied.made)?,
    })
}

/// Computes a step back or forth on a document as it stands.
///
/// # Errors
/// [`StoreError::Broken`] where the step was made for another document.
pub fn prepare_walk(kept: &Kept, id: Uuid, way: Way, step: &Step) -> Result<Prepared, StoreError> {
    let (mut session, _) = read_session(&kept.document)?;
    let (patch, _) = read::<Patch>(match way {
        Way::Undo => &step.back,
        Way::Redo => &step.there,
    })?;
    patch.apply(&mut session).map_err(|e| StoreError::Broken(e.to_string()))?;
    Ok(Prepared {
        id,
        base: kept.revision,
        row: Row::of(&session)?,
        kind: Kind::Walk { way, step: step.id },
        patch: serde_json::to_string(&patch)?,
        label: step.label.clone(),
        made: serde_json::to_string::<[Made]>(&[])?,
    })
}
