//! Stored documents: read, put right where an older program let something through, changed. Plain computation on the
//! caller's thread; no connection is held meanwhile.

use crate::StoreError;
use crate::pieces::{Difference, Piece, assembled};
use crate::row::row;
use lane_document::edit::{self, Edit, Made};
use lane_document::json::{FromJson, ToJson};
use lane_document::session::{Patch, Session};
use lane_units::repairing;
use moka::sync::Cache;
use std::time::Duration;
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
#[derive(Debug, Clone)]
pub struct Step {
    pub id: Uuid,
    pub label: String,
    /// Patches, JSON; none where more than what was asked for lies before it.
    pub there: Option<String>,
    pub back: Option<String>,
}
row!(Step { id, label, there, back });

/// A session as it is kept. Reading its document takes a while where it was not read before.
#[derive(Clone)]
pub struct Kept {
    pub id: Uuid,
    pub revision: i64,
    /// Renders started so far.
    pub renders_started: i32,
    pub(crate) document: Document,
    pub(crate) known: Known,
}

/// A document, as far as it is at hand.
#[derive(Clone)]
pub(crate) enum Document {
    Read(Box<Session>),
    Stored(Vec<Piece>),
}

/// A document that was read.
#[derive(Debug, Clone, PartialEq)]
pub struct Read {
    pub session: Session,
    /// What was put right, for people.
    pub remarks: Vec<String>,
    /// Whether it is what stands in the database; else the next change writes all of it.
    pub as_stored: bool,
}

/// Bytes of memory that documents at hand take at most.
const KNOWN_BYTES: u64 = 96 << 20;
/// How long one stays at hand that nobody asks for.
const KNOWN_IDLE: Duration = Duration::from_secs(1800);

/// Documents at hand, each with its revision, which says whether it is still the one in the database.
#[derive(Clone)]
pub(crate) struct Known(Cache<Uuid, (i64, Session)>);

impl Known {
    pub fn new() -> Self {
        let weigh = |_: &Uuid, (_, session): &(i64, Session)| u32::try_from(bytes(session)).unwrap_or(u32::MAX);
        Known(Cache::builder().max_capacity(KNOWN_BYTES).weigher(weigh).time_to_idle(KNOWN_IDLE).build())
    }

    /// A document, where the one at hand is of that revision.
    pub fn get(&self, id: Uuid, revision: i64) -> Option<Session> {
        self.0.get(&id).filter(|(known, _)| *known == revision).map(|(_, session)| session)
    }

    pub fn put(&self, id: Uuid, revision: i64, session: Session) {
        self.0.insert(id, (revision, session));
    }

    pub fn forget(&self, id: Uuid) {
        self.0.invalidate(&id);
    }
}

/// About how much memory a document takes.
fn bytes(s: &Session) -> usize {
    let processors: usize = s.strips.iter().map(|x| x.chain.len()).sum();
    let hits: usize = s.parts.iter().map(|p| p.hits.len()).sum();
    let notes: usize = s.takes.iter().map(|t| t.take.notes.len()).sum();
    let small = s.patterns.len() + s.sections.len() + s.parts.len() + s.assets.len();
    4000 + 1200 * s.voices.len() + 800 * s.strips.len() + 700 * processors + 40 * (hits + notes) + 400 * small
}

impl Kept {
    /// Reads the document, with a sentence for everything that was put right.
    ///
    /// # Errors
    /// [`StoreError::Document`] where it is no document at all.
    pub fn read(&self) -> Result<Read, StoreError> {
        let pieces = match &self.document {
            Document::Read(session) => {
                return Ok(Read { session: (**session).clone(), remarks: Vec::new(), as_stored: true });
            }
            Document::Stored(pieces) => pieces,
        };
        let json = assembled(pieces)?;
        let (session, remarks) = read_session(&json)?;
        let as_stored = remarks.is_empty() && json.starts_with(TODAY);
        if as_stored {
            self.known.put(self.id, self.revision, session.clone());
        }
        Ok(Read { session, remarks, as_stored })
    }
}

/// Reads something that was stored, putting right what would be refused today.
pub(crate) fn read<T: FromJson>(json: &str) -> Result<(T, Vec<String>), StoreError> {
    let (value, remarks) = repairing(|| T::from_json(json.as_bytes()));
    Ok((value?, remarks))
}

/// Reads a document that stands somewhere as a whole, with a sentence for everything that was put right.
///
/// # Errors
/// [`StoreError::Document`] where it is no document at all.
pub fn read_session(json: &str) -> Result<(Session, Vec<String>), StoreError> {
    let (mut session, mut remarks) = read::<Session>(json)?;
    remarks.extend(session.settle());
    Ok((session, remarks))
}

/// A change that is computed and waits to be written.
pub struct Prepared {
    pub(crate) id: Uuid,
    pub(crate) base: i64,
    /// The document after it.
    pub(crate) after: Session,
    pub(crate) line: Line,
    pub(crate) pieces: Difference,
    pub(crate) kind: Kind,
    pub(crate) patch: String,
    pub(crate) label: String,
    pub(crate) made: String,
    /// The audio that the ways there and back name.
    pub(crate) audio: Vec<String>,
}

impl Prepared {
    /// How many pieces of the document it writes, and how many it takes away.
    pub fn writes(&self) -> (usize, usize) {
        (self.pieces.set.len(), self.pieces.gone.len())
    }
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

/// What the list of sessions shows of a document.
#[derive(Debug)]
pub(crate) struct Line {
    pub title: String,
    pub voices: i32,
    pub tempo_bpm: f64,
    pub audio_bytes: i64,
}

impl Line {
    pub(crate) fn of(session: &Session) -> Self {
        Line {
            title: session.header.title.to_string(),
            voices: session.voices.len() as i32,
            tempo_bpm: session.header.tempo_bpm.bpm(),
            audio_bytes: session.audio_bytes() as i64,
        }
    }
}

/// Computes an edit on a document as it stands.
///
/// * `id` – what its author knows the edit by.
///
/// # Errors
/// [`StoreError::Edit`] where the core refuses.
pub fn prepare_edit(kept: &Kept, id: Uuid, wanted: &Edit) -> Result<Prepared, StoreError> {
    let read = kept.read()?;
    let mut after = read.session.clone();
    let applied = edit::apply(&mut after, wanted)?;
    Ok(Prepared {
        id,
        base: kept.revision,
        line: Line::of(&after),
        pieces: Difference::between(read.as_stored.then_some(&read.session), &after)?,
        after,
        kind: Kind::Edit { back: applied.back.to_json_text()? },
        patch: applied.there.to_json_text()?,
        label: applied.label,
        made: applied.made.to_json_text()?,
        audio: applied.there.audio().union(&applied.back.audio()).map(|id| id.0.clone()).collect(),
    })
}

/// Computes a step back or forth on a document as it stands.
///
/// # Errors
/// [`StoreError::Broken`] where the step was made for another document.
pub fn prepare_walk(kept: &Kept, id: Uuid, way: Way, step: &Step) -> Result<Prepared, StoreError> {
    let kept_as = kept.read()?;
    let mut after = kept_as.session.clone();
    let patch = match way {
        Way::Undo => &step.back,
        Way::Redo => &step.there,
    };
    let patch = patch.as_deref().ok_or_else(|| StoreError::Broken("a step was read without its ways".into()))?;
    let (patch, _) = read::<Patch>(patch)?;
    patch.apply(&mut after).map_err(|e| StoreError::Broken(e.to_string()))?;
    Ok(Prepared {
        id,
        base: kept.revision,
        line: Line::of(&after),
        pieces: Difference::between(kept_as.as_stored.then_some(&kept_as.session), &after)?,
        after,
        kind: Kind::Walk { way, step: step.id },
        patch: patch.to_json_text()?,
        label: step.label.clone(),
        made: Vec::<Made>::new().to_json_text()?,
        // The step has it.
        audio: Vec::new(),
    })
}

impl std::fmt::Debug for Kept {
    fn fmt(&self, f: &mut std::fmt::Formatter) -> std::fmt::Result {
        write!(f, "session {} at revision {}", self.id, self.revision)
    }
}
