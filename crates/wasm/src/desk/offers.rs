//! What is offered of duckers and parallel paths: to begin with, one turned into another, and once they were heard.

use super::{asked, of_session};
use crate::{answer, answer_whole, failed, part, read_input, read_whole};
use lane_document::ready::{Ready, duck_starts, usual_pair};
use lane_dsp::Settings;
use lane_dsp::duckers::{DuckKind, goes_back, turned};
use lane_measure::ducking::{HeardDucker, heard_checks};
use lane_measure::parallel::{HeardPath, HeardPaths, mends, path_checks};
use lane_units::{ProcessorId, StripId};
use serde::Deserialize;
use serde_json::value::RawValue;

/// What is offered whatever the session holds.
#[unsafe(no_mangle)]
pub extern "C" fn desk_ready() -> usize {
    answer_whole(&Ready::new())
}

/// What is ducked by what in most beats, as far as the session has it.
#[unsafe(no_mangle)]
pub extern "C" fn desk_duck_starts() -> usize {
    of_session(|session| answer(&duck_starts(session)))
}

/// The pair for which room is made first; strips and processors are 0 where none is looked at.
#[unsafe(no_mangle)]
pub extern "C" fn desk_usual_pair(strip: u32, ducker: u32) -> usize {
    of_session(|session| answer(&usual_pair(session, StripId(strip), ProcessorId(ducker))))
}

/// What brings the strips in the input in time and polarity, as they were heard: one edit each, or none.
#[unsafe(no_mangle)]
pub extern "C" fn desk_mends() -> usize {
    asked(read_input::<Vec<HeardPath>>(), |session, heard| answer_whole(&mends(session, &heard)))
}

/// What is worth a look at the parallel paths in the input, as they were heard.
#[unsafe(no_mangle)]
pub extern "C" fn desk_path_checks() -> usize {
    asked(read_input::<HeardPaths>(), |session, heard| answer_whole(&path_checks(session, &heard)))
}

/// Every kind of ducker.
#[unsafe(no_mangle)]
pub extern "C" fn desk_duck_kinds() -> usize {
    answer(&DuckKind::kinds())
}

/// Which kind of ducker the settings in the input are; null where they are none.
#[unsafe(no_mangle)]
pub extern "C" fn desk_duck_kind() -> usize {
    match read_whole::<Settings>() {
        Ok(settings) => answer(&DuckKind::of(&settings)),
        Err(error) => failed(error),
    }
}

#[derive(Deserialize)]
struct TurnQuestion {
    settings: Box<RawValue>,
    to: DuckKind,
    depth_db: f64,
    shared_hz: Option<[f64; 2]>,
}

/// The ducker in the input as another kind.
#[unsafe(no_mangle)]
pub extern "C" fn desk_duck_turned() -> usize {
    let read = |asked: TurnQuestion| Ok((part::<Settings>(&asked.settings)?, asked));
    asked(read_input::<TurnQuestion>().and_then(read), |session, (settings, asked)| {
        answer(&turned(&settings, asked.to, asked.depth_db, asked.shared_hz, session.header.place()))
    })
}

#[derive(Deserialize)]
struct BackAgain {
    before: Box<RawValue>,
    now: Box<RawValue>,
}

/// A ducker as it was set before as another kind, with the times that it has now where they were changed.
#[unsafe(no_mangle)]
pub extern "C" fn desk_duck_back() -> usize {
    let read = |asked: BackAgain| Ok((part::<Settings>(&asked.before)?, part::<Settings>(&asked.now)?));
    asked(read_input::<BackAgain>().and_then(read), |session, (before, now)| {
        answer(&goes_back(&before, &now, session.header.place()))
    })
}

/// What is worth a look at the duckers in the input, as they were heard.
#[unsafe(no_mangle)]
pub extern "C" fn desk_duck_checks() -> usize {
    asked(read_input::<Vec<HeardDucker>>(), |session, heard| answer_whole(&heard_checks(session, &heard)))
}
