//! Applying edits: all of one, or nothing.

use super::applied::made;
use super::{Applied, Edit, EditError, NotePlaces, takes};
use crate::routing;
use crate::session::{Patch, Session, Size, Take};

/// Applies an edit: all of it, or nothing.
///
/// Lists of the edit are checked before the work. In a batch, sizes and references are checked after each step, so
/// that the next one finds a document that hangs together; values and loops are checked once at its end.
///
/// # Errors
/// [`EditError`] with what is wrong and where; the session is then unchanged.
///
/// Cost: linear in the document, and in the edit times the lists that it names.
pub fn apply(session: &mut Session, edit: &Edit) -> Result<Applied, EditError> {
    edit.bounded()?;
    let size = Size::of(session);
    let mut next = session.clone();
    edit.change(&mut next, &size)?;
    drop_unused_assets(&mut next);
    size.allows(&next)?;
    next.validate()?;
    routing::order(&next)?;
    let applied = Applied {
        there: Patch::between(session, &next),
        back: Patch::between(&next, session),
        label: edit.label(session),
        made: made(&next, session.next_id),
    };
    *session = next;
    Ok(applied)
}

/// The lanes proposed for the notes of a take that comes in.
///
/// * `before` – what comes in before it, such as sounds; an edit that does not fit counts as left out.
///
/// Cost: a copy of the session and each edit.
pub fn note_places(session: &Session, before: &[Edit], take: &Take) -> NotePlaces {
    let mut then = session.clone();
    for edit in before {
        // An edit that fails leaves nothing half-done.
        let _ = apply(&mut then, edit);
    }
    takes::places(session, &then, take)
}

fn drop_unused_assets(s: &mut Session) {
    let used = s.named_assets();
    s.assets.retain(|a| used.contains(&a.id));
}
