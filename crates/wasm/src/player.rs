//! The engine in the worklet. Every call but `player_start`, `player_finish`, `player_incoming` and `player_strips` is fit
//! for the audio thread.

use crate::{answer, failed, read_input};
use lane_analysis::LiveLoudness;
use lane_document::session::Incoming;
use lane_engine::{Bypass, Engine, Listened, LoopRange, Metering, Station};
use lane_measure::sides::{Recording, Sides, Sound, Way};
use lane_units::{Frame, ProcessorId, StripId, VoiceId};
use std::cell::RefCell;
use std::sync::Arc;

/// Frames of one call of a worklet.
const BLOCK: usize = 128;

struct Player {
    /// Now: what the meters show.
    engine: Engine,
    /// What is heard in turn with it.
    sides: Sides,
    /// Room for words that come in.
    words: Vec<f64>,
    /// Room that is being made.
    room: Vec<Vec<u8>>,
    /// Audio on its way, with its number.
    incoming: Option<(usize, Incoming)>,
    sample_rate: u32,
    loudness: LiveLoudness,
    frames: [Frame; BLOCK],
    /// Left block, then right block.
    planar: [f32; 2 * BLOCK],
    meters: Vec<f32>,
    watch: Watch,
}

impl Player {
    /// The session on a side, 0 for now.
    fn session(&mut self, side: usize) -> Option<&mut Engine> {
        if side == 0 { Some(&mut self.engine) } else { self.sides.engine(side) }
    }
}

/// Frames of the newest sound that a watch gives, and of what it keeps: what comes out later is set against what went
/// in earlier.
const WATCHED: usize = 16_384;
const KEPT: usize = 2 * WATCHED;

/// The newest sound before and behind a processor, or of a strip's end where none is named, as the louder side.
struct Watch {
    strip: StripId,
    processor: ProcessorId,
    before: Option<Station>,
    behind: Option<Station>,
    /// The structure that the stations were found in.
    structures: u64,
    /// Before, then behind, the oldest at `at`.
    kept: Vec<[f32; 2]>,
    at: [usize; 2],
    /// What is handed out: everything before, then everything behind, the oldest first.
    out: Vec<f32>,
}

impl Watch {
    fn new() -> Self {
        Watch {
            strip: StripId(0),
            processor: ProcessorId(0),
            before: None,
            behind: None,
            structures: 0,
            kept: vec![[0.0; 2]; KEPT],
            at: [0; 2],
            out: vec![0.0; 2 * WATCHED],
        }
    }

    fn aim(&mut self, engine: &Engine, strip: StripId, processor: ProcessorId) {
        (self.strip, self.processor) = (strip, processor);
        self.kept.fill([0.0; 2]);
        self.look(engine);
    }

    /// Finds the stations in the structure that is there now.
    fn look(&mut self, engine: &Engine) {
        self.structures = engine.structures();
        let [(before, _), (behind, _)] = engine.around(self.strip, self.processor);
        (self.before, self.behind) = (Some(before), Some(behind));
    }

    fn take(&mut self, strip: StripId, station: Station, frames: &[Frame]) {
        if strip != self.strip {
            return;
        }
        for (side, wanted) in [self.before, self.behind].into_iter().enumerate() {
            if wanted != Some(station) {
                continue;
            }
            for [l, r] in frames {
                self.kept[self.at[side]][side] = if l.abs() >= r.abs() { *l as f32 } else { *r as f32 };
                self.at[side] = (self.at[side] + 1) % KEPT;
            }
        }
    }

    fn read(&mut self, engine: &Engine) -> *const f32 {
        let [_, (_, late)] = engine.around(self.strip, self.processor);
        let late = late.min(WATCHED);
        for (side, late) in [(0, late), (1, 0)] {
            for n in 0..WATCHED {
                let at = self.at[side] + KEPT - WATCHED - late + n;
                self.out[side * WATCHED + n] = self.kept[at % KEPT][side];
            }
        }
        self.out.as_ptr()
    }
}

thread_local! {
    static PLAYER: RefCell<Option<Player>> = const { RefCell::new(None) };
}

fn with_player<T: Default>(work: impl FnOnce(&mut Player) -> T) -> T {
    PLAYER.with_borrow_mut(|player| player.as_mut().map(work).unwrap_or_default())
}

/// Words of a message that need no more room.
const WORDS: usize = 65_536;

/// Begins with an engine without a session, at a rate in Hz, and without other sides. What the one before was asked to do,
/// where to play, in which loop, this one does.
#[unsafe(no_mangle)]
pub extern "C" fn player_start(sample_rate: u32) {
    let mut engine = Engine::empty(sample_rate, BLOCK, Metering::On);
    engine.reserve();
    let before = PLAYER.take();
    if let Some(before) = &before {
        engine.go_on_like(&before.engine);
    }
    let watch = before.map_or_else(Watch::new, |before| before.watch);
    PLAYER.set(Some(Player {
        engine,
        sides: Sides::new(sample_rate, BLOCK),
        sample_rate,
        words: Vec::with_capacity(WORDS),
        room: Vec::new(),
        incoming: None,
        loudness: LiveLoudness::new(sample_rate),
        frames: [[0.0; 2]; BLOCK],
        planar: [0.0; 2 * BLOCK],
        meters: Vec::new(),
        watch,
    }));
}

/// Room for so many words.
#[unsafe(no_mangle)]
pub extern "C" fn player_words(count: usize) -> *mut f64 {
    PLAYER.with_borrow_mut(|player| match player {
        Some(player) => {
            player.words.resize(count, 0.0);
            player.words.as_mut_ptr()
        }
        None => std::ptr::null_mut(),
    })
}

/// Follows the words that were put into that room on a side, 0 for now, what is new in the structure over the blocks that come.
#[unsafe(no_mangle)]
pub extern "C" fn player_take(side: usize) {
    with_player(|p| {
        if side == 0 {
            p.engine.take(&p.words);
        } else {
            p.sides.take(&mut p.engine, side, &p.words);
        }
    });
}

/// Follows everything at once on a side; not while it plays.
#[unsafe(no_mangle)]
pub extern "C" fn player_finish(side: usize) {
    with_player(|p| {
        if side == 0 {
            p.engine.finish();
        } else {
            p.sides.finish(&mut p.engine, side);
        }
    });
}

/// Whether something is not followed yet on a side.
#[unsafe(no_mangle)]
pub extern "C" fn player_busy(side: usize) -> u32 {
    with_player(|p| p.session(side).map_or(0, |engine| u32::from(engine.is_busy())))
}

/// Bytes that a session on a side needs at once, for which `player_room` makes room.
#[unsafe(no_mangle)]
pub extern "C" fn player_side_bytes() -> usize {
    SIDE_BYTES
}

/// What an engine is made of, rings above all; what it needs for pitched sounds is now's.
const SIDE_BYTES: usize = 8 << 20;

/// Puts a session without anything in it on a side from 1; it plays where now plays.
#[unsafe(no_mangle)]
pub extern "C" fn player_side_session(side: usize) {
    with_player(|p| {
        let engine = Engine::beside(&p.engine, Metering::Off);
        p.sides.put(side, Sound::Session(Box::new(engine)));
    });
}

/// Puts a recording on a side from 1: audio of a number, from a frame up to another, going round by itself or along with the
/// song from a frame of it on; gives whether the audio is there.
#[unsafe(no_mangle)]
pub extern "C" fn player_side_recording(
    side: usize,
    number: usize,
    follows: u32,
    start: f64,
    from: f64,
    to: f64,
) -> u32 {
    with_player(|p| {
        let Some(audio) = p.engine.shelved(number).cloned() else { return 0 };
        let way = Way { follows: follows == 1, start: start as u64, from: from as u64, to: to as u64 };
        p.sides.put(side, Sound::Recording(Box::new(Recording::new(audio, way, p.sample_rate))));
        1
    })
}

/// Takes away what is on a side from 1.
#[unsafe(no_mangle)]
pub extern "C" fn player_side_nothing(side: usize) {
    with_player(|p| drop(p.sides.put(side, Sound::Nothing)));
}

/// Lets go of audio of a number that no session plays.
#[unsafe(no_mangle)]
pub extern "C" fn player_unshelve(number: usize) {
    with_player(|p| p.engine.unshelve(number));
}

/// Hears a side, 0 for now, each at a level in dB.
#[unsafe(no_mangle)]
pub extern "C" fn player_hear(side: usize, now_db: f64, first_db: f64, second_db: f64) {
    with_player(|p| p.sides.hear(side, [now_db, first_db, second_db]));
}

/// Counts new structures; with each of them `player_strips` may change.
#[unsafe(no_mangle)]
pub extern "C" fn player_structures() -> f64 {
    with_player(|p| {
        p.meters.resize(p.engine.meter_values(), 0.0);
        p.engine.structures() as f64
    })
}

/// Strips and processors in the order of the meters.
#[unsafe(no_mangle)]
pub extern "C" fn player_strips() -> usize {
    PLAYER.with_borrow(|player| match player {
        Some(player) => answer(&player.engine.meter_layout()),
        None => failed("no session is open"),
    })
}

/// What memory grows by within one block.
const STEP: usize = 1 << 20;

/// Makes room for so many bytes, a step with each call, since a large one takes the browser long; 1 once it is there.
#[unsafe(no_mangle)]
pub extern "C" fn player_room(bytes: usize) -> u32 {
    with_player(|p| {
        if p.room.len() * STEP < bytes {
            p.room.push(Vec::with_capacity(STEP));
            return 0;
        }
        // Let go of side by side, it is one piece.
        p.room.clear();
        1
    })
}

/// Audio of a number is about to come, in pieces.
#[unsafe(no_mangle)]
pub extern "C" fn player_incoming(number: usize, channels: u32, frames: usize) -> usize {
    match Incoming::new(channels as u16, frames) {
        Ok(incoming) => {
            with_player(|p| p.incoming = Some((number, incoming)));
            answer(&())
        }
        Err(error) => failed(error),
    }
}

/// Where the next so many frames of it go, interleaved.
#[unsafe(no_mangle)]
pub extern "C" fn player_piece(frames: usize) -> *mut f32 {
    PLAYER.with_borrow_mut(|player| match player.as_mut().and_then(|p| p.incoming.as_mut()) {
        Some((_, incoming)) => incoming.room(frames).as_mut_ptr(),
        None => std::ptr::null_mut(),
    })
}

/// A piece is there: 0 while more is missing, 1 once the audio can be played, 2 where it cannot.
#[unsafe(no_mangle)]
pub extern "C" fn player_came() -> u32 {
    with_player(|p| {
        let Some((number, mut incoming)) = p.incoming.take() else { return 2 };
        if incoming.check().is_err() {
            return 2;
        }
        match incoming.whole() {
            Ok(audio) => {
                let audio = Arc::new(audio);
                p.sides.engines().for_each(|engine| engine.shelve(number, audio.clone()));
                p.engine.shelve(number, audio);
                1
            }
            Err(rest) => {
                p.incoming = Some((number, rest));
                0
            }
        }
    })
}

#[unsafe(no_mangle)]
pub extern "C" fn player_play() {
    with_player(|p| {
        p.engine.play();
        p.sides.play();
    });
}

#[unsafe(no_mangle)]
pub extern "C" fn player_stop() {
    with_player(|p| {
        p.engine.stop();
        p.sides.stop();
    });
}

/// Frames from bar 1; whole numbers up to 2^53 are exact.
#[unsafe(no_mangle)]
pub extern "C" fn player_seek(frame: f64) {
    with_player(|p| {
        p.engine.seek(frame.max(0.0) as u64);
        p.sides.seek(frame.max(0.0) as u64);
    });
}

/// Repeats a range in frames; none where it is empty.
#[unsafe(no_mangle)]
pub extern "C" fn player_loop(from: f64, to: f64) {
    let range = (to > from).then_some(LoopRange { from: from as u64, to: to as u64 });
    with_player(|p| {
        p.engine.set_loop(range);
        p.sides.set_loop(range);
    });
}

#[unsafe(no_mangle)]
pub extern "C" fn player_position() -> f64 {
    with_player(|p| p.engine.position() as f64)
}

/// Plays one hit of a voice at full velocity: all layers, or the one of an index from 0.
#[unsafe(no_mangle)]
pub extern "C" fn player_audition(voice: u32, layer: i32, tune_st: i32) {
    with_player(|p| p.engine.audition(VoiceId(voice), 1.0, u8::try_from(layer).ok(), tune_st.clamp(-48, 48)));
}

/// Renders one block of up to 128 frames; gives the left block, the right one 128 values behind it.
#[unsafe(no_mangle)]
pub extern "C" fn player_process(frames: usize) -> *const f32 {
    PLAYER.with_borrow_mut(|player| match player {
        Some(player) => {
            let count = frames.min(BLOCK);
            let Player { engine, frames, watch, sides, loudness, .. } = player;
            if watch.structures != engine.structures() {
                watch.look(engine);
            }
            let head = engine.playhead();
            engine.process_heard(&mut frames[..count], &mut |strip, station, sound| watch.take(strip, station, sound));
            // Meters go on showing now, whatever is heard.
            loudness.take(&frames[..count]);
            sides.process(engine, head, &mut frames[..count]);
            for (n, frame) in player.frames[..count].iter().enumerate() {
                player.planar[n] = frame[0] as f32;
                player.planar[BLOCK + n] = frame[1] as f32;
            }
            player.planar.as_ptr()
        }
        None => std::ptr::null(),
    })
}

/// The same block as it is inside, as pairs of 64-bit floats, to compare bits.
#[unsafe(no_mangle)]
pub extern "C" fn player_exact() -> *const Frame {
    PLAYER.with_borrow(|player| player.as_ref().map_or(std::ptr::null(), |p| p.frames.as_ptr()))
}

/// Reads all meters; `player_strips` says whose they are.
#[unsafe(no_mangle)]
pub extern "C" fn player_meters() -> *const f32 {
    PLAYER.with_borrow_mut(|player| match player {
        Some(player) => {
            player.engine.read_meters(&mut player.meters);
            player.meters.as_ptr()
        }
        None => std::ptr::null(),
    })
}

/// Values in all meters.
#[unsafe(no_mangle)]
pub extern "C" fn player_meter_values() -> usize {
    with_player(|p| p.meters.len())
}

/// Lets something of a processor out instead of main: what its key hears, or with `taken` of 1 what it takes away; main
/// again with ids of 0.
#[unsafe(no_mangle)]
pub extern "C" fn player_listen(strip: u32, processor: u32, taken: u32) {
    let what = if taken == 1 { Listened::Taken } else { Listened::Key };
    let of = (strip > 0).then_some((StripId(strip), ProcessorId(processor), what));
    with_player(|p| p.engine.listen(of));
}

/// Passes processors by as the input says, or none.
#[unsafe(no_mangle)]
pub extern "C" fn player_pass_by() -> usize {
    match read_input::<Bypass>() {
        Ok(bypass) => {
            with_player(|p| p.engine.pass_by(&bypass));
            answer(&())
        }
        Err(error) => failed(error),
    }
}

/// Watches the sound before and behind a processor; nothing with ids of 0.
#[unsafe(no_mangle)]
pub extern "C" fn player_watch(strip: u32, processor: u32) {
    with_player(|p| p.watch.aim(&p.engine, StripId(strip), ProcessorId(processor)));
}

/// The newest sound that is watched: as many frames before as behind it.
#[unsafe(no_mangle)]
pub extern "C" fn player_watched() -> *const f32 {
    PLAYER.with_borrow_mut(|player| {
        player.as_mut().map_or(std::ptr::null(), |Player { watch, engine, .. }| watch.read(engine))
    })
}

/// Frames of each of the two.
#[unsafe(no_mangle)]
pub extern "C" fn player_watched_frames() -> usize {
    WATCHED
}

/// The strip in which a processor failed since the last call and was started afresh; 0 for none.
#[unsafe(no_mangle)]
pub extern "C" fn player_fault() -> u32 {
    with_player(|p| p.engine.take_fault().map_or(0, |id| id.0))
}

/// Loudness of main over the last 3 s in LUFS.
#[unsafe(no_mangle)]
pub extern "C" fn player_short_term_lufs() -> f64 {
    with_player(|p| p.loudness.short_term_lufs())
}

/// Highest true peak of main since the last call, linear.
#[unsafe(no_mangle)]
pub extern "C" fn player_true_peak() -> f64 {
    with_player(|p| p.loudness.take_true_peak())
}
