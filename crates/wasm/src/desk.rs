//! The document on the page: edits at once, and what screens ask of the core.

mod offers;

use crate::{answer, answer_whole, answer_words, failed, part, read_input, read_whole};
use lane_document::checks::{self, TraceQuestion};
use lane_document::compare::{differences, go_back};
use lane_document::edit::{self, Done, Edit, Incoming, Insertion, destinations, note_places, proposed_map};
use lane_document::json::JsonError;
use lane_document::midi;
use lane_document::routing::{Latencies, mono_places};
use lane_document::session::{BarSpan, Patch, PatchError, Session, Take, Timeline};
use lane_dsp::{BeatShape, Delay, Reverb, Settings, note_lengths};
use lane_engine::Compiler;
use lane_measure::sides::{chance_of, offsets_db, order, which_of_two};
use lane_stems::{StemJob, StemSpec, Warning};
use lane_units::{AssetId, Name, TakeId, VoiceId};
use serde::{Deserialize, Serialize};
use serde_json::value::RawValue;
use std::cell::RefCell;
use std::collections::HashMap;

thread_local! {
    static DESK: RefCell<Option<Session>> = const { RefCell::new(None) };
    static COMPILER: RefCell<Compiler> = RefCell::new(Compiler::new());
    /// What is held against the document, by its side from 1.
    static SIDES: RefCell<HashMap<u32, (Side, Compiler)>> = RefCell::new(HashMap::new());
}

/// A side beside now that is asked for.
#[derive(Deserialize)]
#[serde(rename_all = "snake_case")]
enum SideAsked {
    Without,
    Document(Box<RawValue>),
}

/// A side beside now that is a state of the session.
enum Side {
    /// The document without processors, whatever becomes of it.
    Without,
    /// Another state of it.
    Document(Box<Session>),
}

const EMPTY: &str = "no session is open";

/// Asks the session that is open.
fn of_session(ask: impl FnOnce(&Session) -> usize) -> usize {
    DESK.with_borrow(|desk| desk.as_ref().map_or_else(|| failed(EMPTY), ask))
}

/// Asks the session that is open about what was read.
fn asked<T>(read: Result<T, JsonError>, ask: impl FnOnce(&Session, T) -> usize) -> usize {
    match read {
        Ok(what) => of_session(|session| ask(session, what)),
        Err(error) => failed(error),
    }
}

/// Opens the document that stands in the input.
#[unsafe(no_mangle)]
pub extern "C" fn desk_open() -> usize {
    match read_whole::<Session>() {
        Ok(session) => {
            DESK.set(Some(session));
            answer(&())
        }
        Err(error) => failed(error),
    }
}

/// Applies the edit in the input: the patches there and back and what went with it, or an error.
#[unsafe(no_mangle)]
pub extern "C" fn desk_apply() -> usize {
    let edit = match read_whole::<Edit>() {
        Ok(edit) => edit,
        Err(error) => return failed(error),
    };
    DESK.with_borrow_mut(|desk| match desk {
        Some(session) => {
            let before = session.clone();
            match edit::apply(session, &edit) {
                Ok(applied) => answer_whole(&Done { applied, lost: edit::losses(&before, session, &edit) }),
                Err(error) => failed(error),
            }
        }
        None => failed(EMPTY),
    })
}

/// What would go with the edit in the input though it is not what it is for; nothing where it is refused.
#[unsafe(no_mangle)]
pub extern "C" fn desk_losses() -> usize {
    asked(read_whole::<Edit>(), |session, edit| {
        let mut after = session.clone();
        let applied = edit::apply(&mut after, &edit);
        answer(&applied.map_or_else(|_| Vec::new(), |_| edit::losses(session, &after, &edit)))
    })
}

fn patched(apply: impl FnOnce(&Patch, &mut Session) -> Result<(), PatchError>) -> usize {
    let patch = match read_whole::<Patch>() {
        Ok(patch) => patch,
        Err(error) => return failed(error),
    };
    DESK.with_borrow_mut(|desk| match desk {
        Some(session) => match apply(&patch, session) {
            Ok(()) => answer(&session.next_id),
            Err(error) => failed(error),
        },
        None => failed(EMPTY),
    })
}

/// Applies the patch in the input, a change that others know of; gives the next free id, which never falls.
#[unsafe(no_mangle)]
pub extern "C" fn desk_patch() -> usize {
    patched(Patch::apply)
}

/// Takes back with the patch in the input what nobody else has seen; gives the next free id.
#[unsafe(no_mangle)]
pub extern "C" fn desk_take_back() -> usize {
    patched(Patch::apply_exactly)
}

/// The document as it stands.
#[unsafe(no_mangle)]
pub extern "C" fn desk_document() -> usize {
    of_session(answer_whole)
}

/// What the engine in the worklet has to follow since the last call, as words; everything where `fresh` is not 0. An
/// answer without a length where no session is open.
#[unsafe(no_mangle)]
pub extern "C" fn desk_engine(fresh: u32) -> usize {
    COMPILER.with_borrow_mut(|compiler| {
        if fresh != 0 {
            compiler.forget();
        }
        DESK.with_borrow(|desk| match desk {
            Some(session) => answer_words(compiler.changes(session)),
            None => answer_words(&[]),
        })
    })
}

/// Puts what the input says on a side from 1, or nothing where the input is null.
#[unsafe(no_mangle)]
pub extern "C" fn desk_side(side: u32) -> usize {
    let read = |asked| match asked {
        SideAsked::Without => Ok(Side::Without),
        SideAsked::Document(json) => part(&json).map(|session| Side::Document(Box::new(session))),
    };
    match read_input::<Option<SideAsked>>().and_then(|asked| asked.map(read).transpose()) {
        Ok(Some(what)) => {
            SIDES.with_borrow_mut(|sides| sides.insert(side, (what, Compiler::new())));
            answer(&())
        }
        Ok(None) => {
            SIDES.with_borrow_mut(|sides| sides.remove(&side));
            answer(&())
        }
        Err(error) => failed(error),
    }
}

/// As `desk_engine`, of a side from 1; an answer without a length where none is there.
#[unsafe(no_mangle)]
pub extern "C" fn desk_side_engine(side: u32, fresh: u32) -> usize {
    SIDES.with_borrow_mut(|sides| {
        let Some((what, compiler)) = sides.get_mut(&side) else { return answer_words(&[]) };
        if fresh != 0 {
            compiler.forget();
        }
        COMPILER.with_borrow_mut(|main| match what {
            Side::Document(session) => answer_words(compiler.changes_beside(main, session)),
            Side::Without => DESK.with_borrow(|desk| match desk {
                Some(session) => answer_words(compiler.changes_beside(main, &session.without_processors())),
                None => answer_words(&[]),
            }),
        })
    })
}

/// By how much sides of the loudnesses in the input have to be moved in dB to be as loud as the softest.
#[unsafe(no_mangle)]
pub extern "C" fn desk_offsets() -> usize {
    match read_input::<Vec<Option<f64>>>() {
        Ok(lufs) => answer(&offsets_db(&lufs)),
        Err(error) => failed(error),
    }
}

#[derive(Serialize)]
struct BlindRound {
    order: Vec<usize>,
    unknown: usize,
}

/// The order of so many sides in a blind round, and which of two the unknown one is.
#[unsafe(no_mangle)]
pub extern "C" fn desk_blind(seed: u32, round: u32, sides: usize) -> usize {
    let order = order(u64::from(seed), round, sides.min(BLIND_SIDES));
    answer(&BlindRound { order, unknown: which_of_two(u64::from(seed), round) })
}

/// Sides of a blind round at most.
const BLIND_SIDES: usize = 8;

/// How likely it is to be right at least so often by chance.
#[unsafe(no_mangle)]
pub extern "C" fn desk_chance(right: u32, rounds: u32) -> usize {
    let rounds = rounds.min(BLIND_ROUNDS);
    answer(&chance_of(right.min(rounds), rounds))
}

/// Rounds that are counted at most.
const BLIND_ROUNDS: u32 = 10_000;

/// The number of the audio whose address is in the input, the same as long as the desk stands.
#[unsafe(no_mangle)]
pub extern "C" fn desk_number() -> usize {
    match read_input::<AssetId>() {
        Ok(id) => answer(&COMPILER.with_borrow_mut(|compiler| compiler.number(&id))),
        Err(error) => failed(error),
    }
}

/// The ids of the session that the edit in the input names.
#[unsafe(no_mangle)]
pub extern "C" fn desk_ids() -> usize {
    match read_whole::<Edit>() {
        Ok(mut edit) => {
            let mut ids = Vec::new();
            edit.each_id(|id| ids.push(*id));
            answer(&ids)
        }
        Err(error) => failed(error),
    }
}

#[derive(Deserialize)]
struct MapQuestion {
    edit: Box<RawValue>,
    /// Ids as they were, and as they are.
    map: Vec<(u32, u32)>,
}

/// The edit in the input with other ids.
#[unsafe(no_mangle)]
pub extern "C" fn desk_mapped() -> usize {
    let read = |asked: MapQuestion| Ok((part::<Edit>(&asked.edit)?, asked.map));
    match read_input::<MapQuestion>().and_then(read) {
        Ok((mut edit, map)) => {
            let map: HashMap<u32, u32> = map.into_iter().collect();
            edit.each_id(|id| *id = map.get(id).copied().unwrap_or(*id));
            answer_whole(&edit)
        }
        Err(error) => failed(error),
    }
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
    of_session(|session| match StemJob::new(session, version) {
        Ok(job) => answer(&StemPreview { frames: job.frames(), stems: job.stems, warnings: job.warnings }),
        Err(error) => failed(error),
    })
}

/// Every sound of a kept take, with the voice proposed for it.
#[unsafe(no_mangle)]
pub extern "C" fn desk_take_lines(take: u32) -> usize {
    of_session(|session| match session.take(TakeId(take)) {
        Some(kept) => answer(&midi::lines(&kept.take, session.header.metre.bar_ticks())),
        None => failed("the take is not in the session any more"),
    })
}

/// The ways of a lane to main, as asked in the input.
#[unsafe(no_mangle)]
pub extern "C" fn desk_trace() -> usize {
    asked(read_whole::<TraceQuestion>(), |session, asked| answer_whole(&checks::trace(session, &asked)))
}

/// How late sound is at every strip.
#[unsafe(no_mangle)]
pub extern "C" fn desk_latency() -> usize {
    of_session(|session| answer(&Latencies::new(session).list()))
}

/// Where only mono sound arrives.
#[unsafe(no_mangle)]
pub extern "C" fn desk_mono() -> usize {
    of_session(|session| answer(&mono_places(session)))
}

/// Every kind of processor with what is known of its values.
#[unsafe(no_mangle)]
pub extern "C" fn desk_kinds() -> usize {
    answer_whole(&Settings::kinds())
}

#[derive(Deserialize)]
struct CurveQuestion {
    settings: Box<RawValue>,
    /// How much of its gains acts, where its mix is that.
    mix_percent: Option<f64>,
    freqs_hz: Vec<f64>,
}

/// How long each note is that a time can be counted in, in quarter notes.
#[unsafe(no_mangle)]
pub extern "C" fn desk_notes() -> usize {
    answer(&note_lengths())
}

/// The gain in dB of the filter in the input, at its frequencies, at the session's rate; nothing of other processors.
#[unsafe(no_mangle)]
pub extern "C" fn desk_curve() -> usize {
    let read = |asked: CurveQuestion| Ok((part::<Settings>(&asked.settings)?, asked));
    asked(read_input::<CurveQuestion>().and_then(read), |session, (settings, asked)| {
        let less = asked.mix_percent.and_then(|percent| settings.in_part(percent / 100.0));
        answer(&less.as_ref().unwrap_or(&settings).response_db(&asked.freqs_hz, session.header.sample_rate))
    })
}

/// The echoes of the delay in the input, at the session's tempo.
#[unsafe(no_mangle)]
pub extern "C" fn desk_echoes() -> usize {
    asked(read_input::<Delay>(), |session, delay| answer(&delay.echoes(session.header.place())))
}

/// The time grid of the session.
#[unsafe(no_mangle)]
pub extern "C" fn desk_timeline() -> usize {
    of_session(|session| answer(&Timeline::new(session)))
}

/// The names of all strips.
#[unsafe(no_mangle)]
pub extern "C" fn desk_names() -> usize {
    of_session(|session| answer(&session.names()))
}

#[derive(Deserialize)]
struct PlacesQuestion {
    /// A list of [`Incoming`].
    incoming: Box<RawValue>,
    /// Sounds that lanes play until they get their own.
    stand_ins: Vec<AssetId>,
}

/// Where sounds that come in go: a list of destinations.
#[unsafe(no_mangle)]
pub extern "C" fn desk_destinations() -> usize {
    let read = |asked: PlacesQuestion| Ok((part::<Vec<Incoming>>(&asked.incoming)?, asked.stand_ins));
    asked(read_input::<PlacesQuestion>().and_then(read), |session, (incoming, stand_ins)| {
        answer(&destinations(session, &incoming, &stand_ins))
    })
}

#[derive(Deserialize)]
struct NotesQuestion {
    /// What comes in before.
    before: Box<RawValue>,
    take: Box<RawValue>,
}

/// Where the notes of a take go that comes in.
#[unsafe(no_mangle)]
pub extern "C" fn desk_note_places() -> usize {
    let read = |asked: NotesQuestion| Ok((part::<Vec<Edit>>(&asked.before)?, part::<Take>(&asked.take)?));
    asked(read_input::<NotesQuestion>().and_then(read), |session, (before, take)| {
        answer_whole(&note_places(session, &before, &take))
    })
}

/// A lane over bars of the song, from one up to another, counted from 0; null where the voice is gone.
#[unsafe(no_mangle)]
pub extern "C" fn desk_lane(voice: u32, from: u32, to: u32) -> usize {
    of_session(|session| answer(&session.lane_grid(VoiceId(voice), BarSpan { from, to })))
}

/// Buses and returns that the lanes of the insertion in the input need, and where they end up if nobody says otherwise.
#[unsafe(no_mangle)]
pub extern "C" fn desk_needed() -> usize {
    asked(read_whole::<Insertion>(), |session, asked| answer(&proposed_map(session, &asked.from, &asked.voices)))
}

/// Everything worth a look.
#[unsafe(no_mangle)]
pub extern "C" fn desk_checks() -> usize {
    of_session(|session| answer_whole(&checks::checks(session)))
}

#[derive(Deserialize)]
struct ShapeQuestion {
    shape: BeatShape,
    steps: usize,
}

/// Steps that are asked for at most.
const SHAPE_STEPS: usize = 4096;

/// What the shape in the input takes away over its length, in steps and at its end, at the session's tempo and metre.
#[unsafe(no_mangle)]
pub extern "C" fn desk_shape() -> usize {
    asked(read_input::<ShapeQuestion>(), |session, ShapeQuestion { shape, steps }| {
        answer(&shape.curve_db(session.header.place(), steps.min(SHAPE_STEPS)))
    })
}

#[derive(Deserialize)]
struct LevelsQuestion {
    settings: Box<RawValue>,
    levels_dbfs: Vec<f64>,
}

/// The level in dBFS that steady levels come out at, of a processor that has such a curve; else nothing.
#[unsafe(no_mangle)]
pub extern "C" fn desk_transfer() -> usize {
    let read = |asked: LevelsQuestion| Ok((part::<Settings>(&asked.settings)?, asked.levels_dbfs));
    match read_input::<LevelsQuestion>().and_then(read) {
        Ok((settings, levels)) => answer(&levels.iter().map(|db| settings.steady_db(*db)).collect::<Vec<_>>()),
        Err(error) => failed(error),
    }
}

#[derive(Deserialize)]
struct DecayQuestion {
    reverb: Reverb,
    freqs_hz: Vec<f64>,
}

/// The time of 60 dB in seconds of the reverb in the input, at its frequencies.
#[unsafe(no_mangle)]
pub extern "C" fn desk_decay() -> usize {
    asked(read_input::<DecayQuestion>(), |session, asked| {
        answer(&asked.reverb.decay_s(&asked.freqs_hz, session.header.sample_rate))
    })
}

/// The spectrum of the sound in the input: little-endian 32-bit floats of one side.
#[unsafe(no_mangle)]
pub extern "C" fn desk_spectrum() -> usize {
    let frames: Vec<[f64; 2]> = crate::with_input(|bytes| {
        bytes.chunks_exact(4).map(|b| [f64::from(f32::from_le_bytes([b[0], b[1], b[2], b[3]])); 2]).collect()
    });
    of_session(|session| answer(&lane_analysis::bands_of(&frames, session.header.sample_rate)))
}

/// What differs between the document and another state of it, which is in the input.
#[unsafe(no_mangle)]
pub extern "C" fn desk_differences() -> usize {
    asked(read_whole::<Session>(), |session, then| answer_whole(&differences(session, &then)))
}

#[derive(Deserialize)]
struct BackQuestion {
    name: Name,
    then: Box<RawValue>,
}

/// The edit that makes another state of the document of it.
#[unsafe(no_mangle)]
pub extern "C" fn desk_go_back() -> usize {
    let read = |asked: BackQuestion| Ok((part::<Session>(&asked.then)?, asked.name));
    asked(read_input::<BackQuestion>().and_then(read), |session, (then, name)| {
        answer_whole(&go_back(session, &then, &name))
    })
}
