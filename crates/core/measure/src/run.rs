//! One way to hear a stretch of the song offline: what is heard, where, from when to when, in pieces of any size.
//!
//! The end of the stretch is played first, so that everything rings as it will; then the stretch goes round. What listens is
//! a [`Listener`]; it can be read at any time, and a run that is dropped is called off.

use lane_engine::{Engine, LoopRange, Playhead, Station};
use lane_units::{Frame, StripId, gain_to_db};

use crate::recording::Recording;

/// Frames computed in one piece.
pub(crate) const BLOCK: usize = 1024;
/// A stretch is measured in whole rounds for at least so long: loudness is gated in blocks of 0.4 s, and its short-term
/// window is 3 s (EBU Tech 3341).
pub(crate) const SHORTEST_S: u64 = 3;
/// What of a stretch's end is played before it, at most: longer than any hold and most of any release or room.
pub(crate) const RING_S: u64 = 6;
/// Levels below this are silence: a sine at half the last of 24 bits is at -144 dBFS.
pub(crate) const SILENT_DB: f64 = -140.0;
/// How faint a hit is found in a sound whose hits nobody plans: 0 the strongest alone, 1 the faintest too.
pub(crate) const SENSITIVITY: f64 = 0.5;
/// Frames that one value of a reduction stands for.
pub const PIECE: usize = 16;
/// Parts of a picture at most: as many as the widest bench has pixels.
pub const PARTS: usize = 1200;

/// A level for people; nothing where it is silence.
pub(crate) fn heard_db(db: f64) -> Option<f64> {
    (db > SILENT_DB).then_some(db)
}

/// The sum of squares of both sides.
pub(crate) fn squares(frames: &[Frame]) -> f64 {
    frames.iter().map(|[l, r]| l * l + r * r).sum()
}

/// The mean level in dBFS, of the sum of squares of both sides over some frames.
pub(crate) fn rms_dbfs(squares: f64, frames: u64) -> Option<f64> {
    heard_db(gain_to_db(libm::sqrt(squares / (2.0 * frames.max(1) as f64))))
}

/// Sample peak over the mean, in dB.
pub(crate) fn crest_db(sample_peak: f64, squares: f64, frames: u64) -> Option<f64> {
    heard_db(gain_to_db(sample_peak)).zip(rms_dbfs(squares, frames)).map(|(peak, mean)| peak - mean)
}

/// What of the song is heard, in frames of the run.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Span {
    /// Of the stretch.
    pub range: LoopRange,
    /// Frames of its end that are played before it.
    pub ring: u64,
    /// Frames of one round.
    pub round: u64,
    /// Frames of the rounds that are measured.
    pub length: u64,
}

impl Span {
    /// * `range` – the stretch, not empty.
    pub fn new(range: LoopRange, sample_rate: u32) -> Self {
        let (round, rate) = ((range.to - range.from).max(1), u64::from(sample_rate));
        Span { range, ring: round.min(RING_S * rate), round, length: rounds(round, rate) }
    }
}

/// Frames of as many whole rounds as loudness takes.
pub(crate) fn rounds(round: u64, rate: u64) -> u64 {
    round * (SHORTEST_S * rate).div_ceil(round).max(1)
}

/// What plays.
pub(crate) enum Source {
    /// A session, from the ring before a stretch on.
    Session(Box<Engine>),
    /// A recording, and where the song stands.
    Recording(Box<Recording>, Playhead),
}

impl Source {
    /// An engine that plays a stretch from the ring before it on.
    pub fn engine(mut engine: Engine, span: Span) -> Self {
        engine.play_into(span.range, span.ring);
        Source::Session(Box::new(engine))
    }
}

/// What listens to a run.
pub trait Listener {
    /// Whether it listens to stations of strips, not only to what comes out.
    const STATIONS: bool;

    /// What a station gives next.
    ///
    /// * `kept` – whether the frames before the stretch are over.
    fn station(&mut self, strip: StripId, station: Station, frames: &[Frame], kept: bool) {
        let _ = (strip, station, frames, kept);
    }

    /// What comes out next.
    ///
    /// * `at` – frames of the run before it.
    fn out(&mut self, at: u64, frames: &[Frame]) {
        let _ = (at, frames);
    }

    /// All of it was heard.
    fn over(&mut self) {}
}

/// A run on its way.
pub struct Run<L> {
    source: Source,
    /// Frames at which a piece ends: where the stretch begins, where its first round ends.
    ends: [u64; 2],
    whole: u64,
    done: u64,
    block: Vec<Frame>,
    /// What was heard so far.
    pub(crate) heard: L,
}

impl<L: Listener> Run<L> {
    /// * `ends` – frames at which a piece ends, ascending; the first is where the stretch begins.
    /// * `whole` – frames that are played in all.
    pub(crate) fn of(source: Source, ends: [u64; 2], whole: u64, heard: L) -> Self {
        Run { source, ends, whole, done: 0, block: vec![[0.0; 2]; BLOCK], heard }
    }

    /// Goes on for about so many frames; gives how far it is, 1 at its end.
    pub fn step(&mut self, frames: u64) -> f64 {
        let Run { source, ends, whole, done, block, heard } = self;
        if *done == *whole {
            return 1.0;
        }
        let until = done.saturating_add(frames).min(*whole);
        while *done < until {
            let next = ends.iter().copied().find(|end| *end > *done).unwrap_or(until).min(until);
            let count = (next - *done).min(BLOCK as u64) as usize;
            let block = &mut block[..count];
            match source {
                Source::Session(engine) if L::STATIONS => {
                    let kept = *done >= ends[0];
                    engine.process_heard(block, &mut |strip, station, frames| {
                        heard.station(strip, station, frames, kept)
                    });
                }
                Source::Session(engine) => engine.process(block),
                Source::Recording(recording, head) => {
                    recording.process(*head, block);
                    head.pass(count);
                }
            }
            heard.out(*done, block);
            *done += count as u64;
        }
        if *done == *whole {
            heard.over();
        }
        *done as f64 / *whole as f64
    }

    /// Plays all of it.
    pub fn whole(mut self) -> Self {
        self.step(u64::MAX);
        self
    }

    /// Frames of the stretch that were heard so far.
    pub(crate) fn kept(&self) -> u64 {
        self.done.saturating_sub(self.ends[0])
    }
}
