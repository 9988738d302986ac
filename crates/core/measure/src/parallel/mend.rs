//! What brings a strip in time and polarity with what it was held against.

use super::align::{Verdict, whole_frames};
use lane_document::edit::{Edit, SetStrips, StripChange};
use lane_document::session::Session;
use lane_units::StripId;
use serde::Deserialize;

/// A strip as it was heard against another: some of [`super::PathReading`].
#[derive(Debug, Clone, Copy, Deserialize)]
pub struct HeardPath {
    /// Which.
    pub strip: StripId,
    /// How it lies.
    pub alignment: HeardAlignment,
}

/// Some of [`super::Alignment`].
#[derive(Debug, Clone, Copy, Deserialize)]
pub struct HeardAlignment {
    /// What is to be said.
    pub verdict: Verdict,
    /// Frames by which it comes later.
    pub delay_frames: f64,
    /// Whether it is of the other polarity.
    pub inverted: bool,
    /// What the sum of both gains where it is mended, in dB.
    pub gain_db: f64,
}

/// For each strip that lies off, the edit that mends it, in the order given.
pub fn mends(session: &Session, heard: &[HeardPath]) -> Vec<Edit> {
    heard.iter().filter_map(|path| mend(session, path)).collect()
}

/// The edit that mends a strip, where it lies off: its offset by whole frames, its polarity, or both.
pub(super) fn mend(session: &Session, heard: &HeardPath) -> Option<Edit> {
    let HeardAlignment { verdict, delay_frames, inverted, .. } = heard.alignment;
    let strip = session.strip(heard.strip).filter(|_| verdict == Verdict::Off)?;
    let frames = whole_frames(delay_frames);
    let later = (frames != 0).then(|| StripChange::OffsetFrames(strip.offset_frames.saturating_sub(frames)));
    let turned = inverted.then(|| StripChange::Polarity(strip.polarity.other()));
    let changes = later.into_iter().chain(turned);
    let mut edits: Vec<Edit> = changes.map(|change| SetStrips { strips: vec![strip.id], change }.into()).collect();
    if edits.len() > 1 { Some(Edit::Batch { edits }) } else { edits.pop() }
}
