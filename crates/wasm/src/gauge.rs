//! Measuring runs, in a worker of the browser.

use crate::{answer, failed, read_input};
use lane_core::checks::Repair;
use lane_core::edit::{self, Edit};
use lane_core::engine::LoopRange;
use lane_core::levels::{Measured, Measuring, Proposal, Suggestion, SumLine, propose, suggest, sum_repair, sums};
use lane_core::session::{AssetBank, Session};
use serde::Serialize;
use std::cell::RefCell;

struct Gauge {
    session: Session,
    run: Option<Measuring>,
}

thread_local! {
    static GAUGE: RefCell<Option<Gauge>> = const { RefCell::new(None) };
    static BANK: RefCell<AssetBank> = const { RefCell::new(AssetBank::new()) };
}

const EMPTY: &str = "no session is open";

/// Opens the document in the input.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_open() -> usize {
    match read_input::<Session>() {
        Ok(session) => {
            GAUGE.set(Some(Gauge { session, run: None }));
            answer(&())
        }
        Err(error) => failed(error),
    }
}

/// Takes audio, as an address of 64 characters, then samples.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_asset(channels: u32) -> usize {
    match crate::read_asset(channels) {
        Ok((id, audio)) => {
            BANK.with_borrow_mut(|bank| bank.insert(id, audio));
            answer(&())
        }
        Err(error) => failed(error),
    }
}

/// Applies the edits in the input to the document that is measured.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_apply() -> usize {
    let edits = match read_input::<Vec<Edit>>() {
        Ok(edits) => edits,
        Err(error) => return failed(error),
    };
    GAUGE.with_borrow_mut(|gauge| match gauge {
        Some(gauge) => {
            for edit in &edits {
                if let Err(error) = edit::apply(&mut gauge.session, edit) {
                    return failed(error);
                }
            }
            answer(&())
        }
        None => failed(EMPTY),
    })
}

/// Begins a run over a range in frames.
///
/// * `without` – 1 to pass all processors by.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_start(from: f64, to: f64, without: u32) -> usize {
    if to.is_nan() || from.is_nan() || from < 0.0 || to <= from {
        return failed("the loop is empty; choose at least one bar");
    }
    GAUGE.with_borrow_mut(|gauge| match gauge {
        Some(gauge) => {
            let range = LoopRange { from: from as u64, to: to as u64 };
            let mut run = BANK.with_borrow(|bank| Measuring::new(&gauge.session, bank, range));
            if without == 1 {
                run.pass_all_by();
            }
            gauge.run = Some(run);
            answer(&())
        }
        None => failed(EMPTY),
    })
}

/// Goes on for about so many frames; gives how far it is, 1 at its end.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_step(frames: u32) -> f64 {
    GAUGE.with_borrow_mut(|gauge| {
        gauge.as_mut().and_then(|g| g.run.as_mut()).map_or(1.0, |run| run.step(u64::from(frames)))
    })
}

#[derive(Serialize)]
struct Found {
    measured: Measured,
    proposal: Proposal,
    sums: Vec<SumLine>,
    suggestions: Vec<Suggestion>,
    /// What brings the sum to its target, where it is not there.
    sum_repair: Option<Repair>,
}

/// What the run found, and what follows from it.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_read() -> usize {
    GAUGE.with_borrow(|gauge| match gauge.as_ref().and_then(|g| g.run.as_ref().map(|run| (&g.session, run.read()))) {
        Some((session, measured)) => answer(&Found {
            proposal: propose(session, &measured),
            sums: sums(session, &measured),
            suggestions: suggest(session, &measured),
            sum_repair: sum_repair(session, &measured),
            measured,
        }),
        None => failed("nothing was measured yet"),
    })
}
