//! Measuring runs, in a worker of the browser.

use crate::{answer, failed, read_input};
use lane_core::checks::Repair;
use lane_core::ducking::{
    Ducker, DuckerWaves, Ducking, Focus, Goal, PairFigures, Room, Solved, make_room, recorded_hits, solve,
};
use lane_core::edit::{self, Edit};
use lane_core::engine::LoopRange;
use lane_core::levels::{Measured, Measuring, Proposal, Suggestion, SumLine, propose, suggest, sum_repair, sums};
use lane_core::parallel::{
    Blend, Comb, FoundBlend, PathReading, Paths, PathsAsked, PressGoal, PressSolved, ReturnBench,
};
use lane_core::session::{AssetBank, Session};
use lane_core::sides::{Hearing, Way};
use lane_core::units::{AssetId, ProcessorId, VoiceId};
use serde::{Deserialize, Serialize};
use std::cell::RefCell;

/// A run on its way.
enum Run {
    Levels(Box<Measuring>),
    Ducks(Box<Ducking>),
    Paths(Box<Paths>, PathsAsked),
    Side(Box<Hearing>),
}

struct Gauge {
    session: Session,
    run: Option<Run>,
}

impl Gauge {
    fn levels(&self) -> Option<&Measuring> {
        match &self.run {
            Some(Run::Levels(run)) => Some(run),
            _ => None,
        }
    }

    fn ducks(&self) -> Option<&Ducking> {
        match &self.run {
            Some(Run::Ducks(run)) => Some(run),
            _ => None,
        }
    }
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
fn start(from: f64, to: f64, run: impl FnOnce(&Session, &AssetBank, LoopRange) -> Run) -> usize {
    if to.is_nan() || from.is_nan() || from < 0.0 || to <= from {
        return failed("the loop is empty; choose at least one bar");
    }
    GAUGE.with_borrow_mut(|gauge| match gauge {
        Some(gauge) => {
            let range = LoopRange { from: from as u64, to: to as u64 };
            gauge.run = Some(BANK.with_borrow(|bank| run(&gauge.session, bank, range)));
            answer(&())
        }
        None => failed(EMPTY),
    })
}

/// Begins to measure levels over a range in frames.
///
/// * `without` – 1 to pass all processors by.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_start(from: f64, to: f64, without: u32) -> usize {
    start(from, to, |session, bank, range| {
        let mut run = Measuring::new(session, bank, range);
        if without == 1 {
            run.pass_all_by();
        }
        Run::Levels(Box::new(run))
    })
}

/// Begins to hear duckers over a range in frames.
///
/// * `focus` – the processor of which more is kept, to be seen and solved for; 0 for none.
/// * `alone` – 1 where no other is heard.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_ducks(from: f64, to: f64, focus: u32, alone: u32) -> usize {
    let focus = match (focus, alone) {
        (0, _) => Focus::None,
        (id, 1) => Focus::Alone(ProcessorId(id)),
        (id, _) => Focus::Beside(ProcessorId(id)),
    };
    start(from, to, |session, bank, range| Run::Ducks(Box::new(Ducking::new(session, bank, range, focus))))
}

/// Begins to hear parallel paths over a range in frames: what shall be found out of them is in the input.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_paths(from: f64, to: f64) -> usize {
    let asked = match read_input::<PathsAsked>() {
        Ok(asked) => asked,
        Err(error) => return failed(error),
    };
    start(from, to, |session, bank, range| Run::Paths(Box::new(Paths::new(session, bank, range, &asked)), asked))
}

/// Begins to hear a side over a range in frames: the session.
///
/// * `without` – 1 for without processors.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_side(from: f64, to: f64, without: u32) -> usize {
    start(from, to, |session, bank, range| {
        let hearing = match without {
            1 => Hearing::session(&session.without_processors(), bank, range),
            _ => Hearing::session(session, bank, range),
        };
        Run::Side(Box::new(hearing))
    })
}

#[derive(Deserialize)]
struct RecordingAsked {
    asset: AssetId,
    follows: bool,
    start: u64,
    from: u64,
    to: u64,
}

/// Begins to hear a side over a range in frames: the recording in the input.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_side_recording(from: f64, to: f64) -> usize {
    let asked = match read_input::<RecordingAsked>() {
        Ok(asked) => asked,
        Err(error) => return failed(error),
    };
    let RecordingAsked { asset, follows, start: begins, from: first, to: last } = asked;
    let Some(audio) = BANK.with_borrow(|bank| bank.get(&asset).cloned()) else {
        return failed("the audio of that recording is not here; choose another, or bring it in again");
    };
    let way = Way { follows, start: begins, from: first, to: last };
    start(from, to, |session, _, range| {
        Run::Side(Box::new(Hearing::recording(audio, way, session.header.sample_rate, range)))
    })
}

/// How the side sounds that was heard.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_heard() -> usize {
    GAUGE.with_borrow(|gauge| match gauge.as_ref().and_then(|g| g.run.as_ref()) {
        Some(Run::Side(run)) => answer(&run.read()),
        _ => failed("no side was heard yet"),
    })
}

/// Lets go of audio that is not needed any more; its address is in the input.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_let_go() -> usize {
    match read_input::<AssetId>() {
        Ok(id) => {
            BANK.with_borrow_mut(|bank| bank.remove(&id));
            answer(&())
        }
        Err(error) => failed(error),
    }
}

/// Goes on for about so many frames; gives how far it is, 1 at its end.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_step(frames: u32) -> f64 {
    GAUGE.with_borrow_mut(|gauge| {
        gauge.as_mut().and_then(|g| g.run.as_mut()).map_or(1.0, |run| match run {
            Run::Levels(run) => run.step(u64::from(frames)),
            Run::Ducks(run) => run.step(u64::from(frames)),
            Run::Paths(run, _) => run.step(u64::from(frames)),
            Run::Side(run) => run.step(u64::from(frames)),
        })
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
    GAUGE.with_borrow(|gauge| match gauge.as_ref().and_then(|g| g.levels().map(|run| (&g.session, run.read()))) {
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

/// Where a recording hits, by pattern.
///
/// * `sensitivity` – 0 (only the strongest hits) to 1 (the faintest too).
#[unsafe(no_mangle)]
pub extern "C" fn gauge_recorded(voice: u32, sensitivity: f64) -> usize {
    GAUGE.with_borrow(|gauge| {
        let Some(gauge) = gauge else { return failed(EMPTY) };
        match BANK.with_borrow(|bank| recorded_hits(&gauge.session, bank, VoiceId(voice), sensitivity)) {
            Some(hits) => answer(&hits),
            None => failed("that lane is no recording, or its audio is not here yet"),
        }
    })
}

/// Parts of the waves around a ducker.
const PARTS: usize = 1200;

#[derive(Deserialize)]
struct DuckQuestion {
    /// What the ducker in focus shall do.
    goal: Option<(ProcessorId, Goal)>,
    /// The ducker in focus that takes nothing away yet, where a way to make room is asked for.
    room: Option<ProcessorId>,
}

#[derive(Serialize)]
struct Ducks {
    duckers: Vec<Ducker>,
    /// Around each of them, in the same order.
    waves: Vec<DuckerWaves>,
    solved: Option<Solved>,
    /// What the one in focus does to what it ducks and its key together.
    pair: Option<PairFigures>,
    room: Option<Room>,
}

/// What a run heard of duckers, and what the question in the input asks of one of them.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_ducked() -> usize {
    let asked = match read_input::<DuckQuestion>() {
        Ok(asked) => asked,
        Err(error) => return failed(error),
    };
    GAUGE.with_borrow(|gauge| match gauge.as_ref().and_then(Gauge::ducks) {
        Some(run) => {
            let duckers = run.read();
            let waves = duckers.iter().filter_map(|d| run.waves(d.processor, PARTS)).collect();
            let solved = asked.goal.and_then(|(id, goal)| solve(run, id, goal));
            let room = asked.room.and_then(|id| make_room(run, id));
            // A question is answered alone, so that it takes no longer than it has to.
            let asks = asked.goal.is_some() || asked.room.is_some();
            let pair = if asks { None } else { run.pair_figures() };
            answer(&Ducks { duckers, waves, solved, pair, room })
        }
        None => failed("no ducker was heard yet"),
    })
}

#[derive(Deserialize)]
struct PathQuestion {
    /// What the first compressor of the return that is looked at shall do.
    goal: Option<PressGoal>,
    /// The budget of peak in dB that the highest blend is looked for in.
    budget_db: Option<f64>,
    /// Another level of it, of which the figures are asked for.
    fader_db: Option<f64>,
}

#[derive(Serialize)]
struct PathsHeard {
    returns: Vec<PathReading>,
    lanes: Vec<PathReading>,
    /// What the first two lanes do to each other.
    comb: Option<Comb>,
    bench: Option<ReturnBench>,
    solved: Option<PressSolved>,
    found: Option<FoundBlend>,
    /// At the level that was asked for.
    at: Option<Blend>,
}

/// What a run heard of parallel paths; where the input asks something of the return that is looked at, the answer to that
/// alone.
#[unsafe(no_mangle)]
pub extern "C" fn gauge_pathed() -> usize {
    let asked = match read_input::<PathQuestion>() {
        Ok(asked) => asked,
        Err(error) => return failed(error),
    };
    GAUGE.with_borrow(|gauge| match gauge.as_ref().and_then(|g| g.run.as_ref()) {
        Some(Run::Paths(run, about)) => {
            let solved = asked.goal.and_then(|goal| run.solve(goal));
            let found = asked.budget_db.and_then(|db| run.within(db));
            let at = asked.fader_db.and_then(|db| run.blend_at(db));
            let mut heard = PathsHeard { returns: vec![], lanes: vec![], comb: None, bench: None, solved, found, at };
            if asked.goal.is_none() && asked.budget_db.is_none() && asked.fader_db.is_none() {
                heard.comb = about.lanes.first().and_then(|first| run.lanes_comb(*first));
                (heard.returns, heard.lanes, heard.bench) = (run.returns(), run.lanes(), run.bench());
            }
            answer(&heard)
        }
        _ => failed("no path was heard yet"),
    })
}
