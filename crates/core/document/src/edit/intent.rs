//! What every kind of edit says of itself. Nothing here has a default, so that none of it can be forgotten.

use super::EditError;
use super::label::Words;
use super::parts::Parts;
use crate::session::Session;

/// One kind of edit.
pub(super) trait Intent: Parts {
    /// A few words that say what it does to a session, as that is before it.
    fn label(&self, words: &Words) -> String;

    /// Does it. Where it fails the session may be left half-done.
    ///
    /// # Errors
    /// [`EditError`] with what is wrong and where.
    fn apply(&self, s: &mut Session) -> Result<(), EditError>;
}
