//! Finds things of a session to change, and makes new ones at rest: what the other rooms of edits share.

use super::EditError;
use crate::session::{Processor, Session, Strip, StripKind, Voice};
use lane_units::{ProcessorId, StripId, StripName, VoiceId};

/// A strip of the session.
///
/// # Errors
/// [`EditError::Gone`] where it is not in it.
pub(super) fn strip_mut(s: &mut Session, id: StripId) -> Result<&mut Strip, EditError> {
    s.strips
        .iter_mut()
        .find(|x| x.id == id)
        .map(|x| &mut **x)
        .ok_or(EditError::Gone { what: format!("strip {}", id.0) })
}

/// A voice of the session.
///
/// # Errors
/// [`EditError::Gone`] where it is not in it.
pub(super) fn voice_mut(s: &mut Session, id: VoiceId) -> Result<&mut Voice, EditError> {
    s.voices
        .iter_mut()
        .find(|v| v.id == id)
        .map(|v| &mut **v)
        .ok_or(EditError::Gone { what: format!("voice {}", id.0) })
}

/// A channel at rest on an output.
pub(super) fn new_channel(s: &mut Session, output: Option<StripId>) -> StripId {
    let id = StripId(s.take_id());
    // Channels stand before buses and main, in the order they were made.
    let at = s.strips.iter().rposition(|x| x.kind == StripKind::Channel).map_or(0, |i| i + 1);
    s.strips.insert(at, Strip::new(id, StripKind::Channel, StripName::default(), output).into());
    id
}

/// The same processors under ids of their own.
pub(super) fn with_new_ids(s: &mut Session, chain: Vec<Processor>) -> Vec<Processor> {
    chain.into_iter().map(|p| Processor { id: ProcessorId(s.take_id()), ..p }).collect()
}
