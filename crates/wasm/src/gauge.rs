//! Questions about a session as it is played, in a worker of the browser.

use crate::{answer, answer_whole, failed, part, read_input, read_whole};
use lane_document::edit::Edit;
use lane_document::session::Session;
use lane_engine::LoopRange;
use lane_measure::questions::{Gauge, Question};
use serde::{Deserialize, Serialize};
use serde_json::value::RawValue;
use std::cell::RefCell;
use std::fmt::Display;

thread_local! {
    static GAUGE: RefCell<Gauge> = RefCell::new(Gauge::default());
}

const EMPTY: LoopRange = LoopRange { from: 0, to: 0 };

/// The answer to a call, or why there is none.
fn told(found: Result<impl Serialize, impl Display>) -> usize {
    match found {
        Ok(found) => answer(&found),
        Err(error) => failed(error),
    }
}

#[derive(Deserialize)]
struct Opened {
    session: Box<RawValue>,
    edits: Box<RawValue>,
}

/// Opens the document in the input, with the edits beside it applied.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_open() -> usize {
    let read = |asked: Opened| Ok((part::<Session>(&asked.session)?, part::<Vec<Edit>>(&asked.edits)?));
    match read_input::<Opened>().and_then(read) {
        Ok((session, edits)) => told(GAUGE.with_borrow_mut(|gauge| gauge.open(session, &edits))),
        Err(error) => failed(error),
    }
}

/// Takes audio, as an address of 64 characters, then samples.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_asset(channels: u32) -> usize {
    let read = crate::read_asset(channels);
    told(read.map(|(id, audio)| GAUGE.with_borrow_mut(|gauge| gauge.keep(id, audio))))
}

/// Asks the question in the input about a range in frames; gives the audio that it takes and that is not here.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_ask(from: f64, to: f64) -> usize {
    let question = match read_whole::<Question>() {
        Ok(question) => question,
        Err(error) => return failed(error),
    };
    // What is no range is an empty one, which is refused.
    let range = if from >= 0.0 && to > from { LoopRange { from: from as u64, to: to as u64 } } else { EMPTY };
    told(GAUGE.with_borrow_mut(|gauge| gauge.ask(question, range)))
}

/// Begins what has to be heard.
///
/// * `again` – 1 to answer from what was heard last.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_begin(again: u32) -> usize {
    told(GAUGE.with_borrow_mut(|gauge| gauge.begin(again == 1)))
}

/// Goes on for about so many frames; gives how far it is, 1 at its end.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_step(frames: u32) -> f64 {
    GAUGE.with_borrow_mut(|gauge| gauge.step(u64::from(frames)))
}

/// The answer to what was asked.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_answer() -> usize {
    match GAUGE.with_borrow_mut(Gauge::answer) {
        Ok(found) => answer_whole(&found),
        Err(error) => failed(error),
    }
}
