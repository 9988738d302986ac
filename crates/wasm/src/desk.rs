//! The document on the page: edits at once, and what screens ask of the core.

use crate::{answer, failed, read_input};
use lane_core::checks;
use lane_core::edit::{self, Edit};
use lane_core::midi;
use lane_core::session::{Patch, Session};
use lane_core::stems::{StemJob, StemSpec, Warning};
use lane_core::units::{StripId, TakeId, VoiceId};
use serde::Serialize;
use std::cell::RefCell;

thread_local!(static DESK: RefCell<Option<Session>> = const { RefCell::new(None) });

const EMPTY: &str = "no session is open";

/// Opens the document that stands in the input.
#[unsafe(no_mangle)]
pub extern "C" fn desk_open() -> usize {
    match read_input::<Session>() {
        Ok(session) => {
            DESK.set(Some(session));
            answer(&())
        }
        Err(error) => failed(error),
    }
}

/// Applies the edit in the input: the patches there and back, or an error.
#[unsafe(no_mangle)]
pub extern "C" fn desk_apply() -> usize {
    let edit = match read_input::<Edit>() {
        Ok(edit) => edit,
        Err(error) => return failed(error),
    };
    DESK.with_borrow_mut(|desk| match desk {
        Some(session) => match edit::apply(session, &edit) {
            Ok(applied) => answer(&applied),
            Err(error) => failed(error),
        },
        None => failed(EMPTY),
    })
}

/// Applies the patch in the input.
#[unsafe(no_mangle)]
pub extern "C" fn desk_patch() -> usize {
    let patch = match read_input::<Patch>() {
        Ok(patch) => patch,
        Err(error) => return failed(error),
    };
    DESK.with_borrow_mut(|desk| match desk {
        Some(session) => match patch.apply(session) {
            Ok(()) => answer(&()),
            Err(error) => failed(error),
        },
        None => failed(EMPTY),
    })
}

#[derive(Serialize)]
struct StemPreview {
    stems: Vec<StemSpec>,
    frames: u64,
    warnings: Vec<Warning>,
}

/// What tracking out would give with a version number.
#[unsafe(no_mangle)]
pub extern "C" fn desk_stems(version: u32) -> usize {
    DESK.with_borrow(|desk| match desk {
        Some(session) => match StemJob::new(session, version) {
            Ok(job) => answer(&StemPreview { frames: job.frames(), stems: job.stems, warnings: job.warnings }),
            Err(error) => failed(error),
        },
        None => failed(EMPTY),
    })
}

/// Every sound of a kept take, with the voice proposed for it.
#[unsafe(no_mangle)]
pub extern "C" fn desk_take_lines(take: u32) -> usize {
    DESK.with_borrow(|desk| match desk {
        Some(session) => match session.take(TakeId(take)) {
            Some(kept) => answer(&midi::lines(&kept.take, session.header.metre.bar_ticks())),
            None => failed("the take is not in the session any more"),
        },
        None => failed(EMPTY),
    })
}

/// The way of a voice (0 for none) and its strip to main, with hits looked for in some bars.
#[unsafe(no_mangle)]
pub extern "C" fn desk_trace(voice: u32, strip: u32, from_bar: u32, bars: u32) -> usize {
    let voice = (voice > 0).then_some(VoiceId(voice));
    DESK.with_borrow(|desk| match desk {
        Some(session) => answer(&checks::trace(session, voice, StripId(strip), from_bar, bars)),
        None => failed(EMPTY),
    })
}

/// Everything worth a look.
#[unsafe(no_mangle)]
pub extern "C" fn desk_checks() -> usize {
    DESK.with_borrow(|desk| match desk {
        Some(session) => answer(&checks::checks(session)),
        None => failed(EMPTY),
    })
}
