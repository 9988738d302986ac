//! One ducker while the stretch is played: what it hears, gets and takes away, piece by piece.

use super::PIECE;
use crate::dsp::{Begin, Moment, Settings, Silent, Slot, SlotPlan, Starts};
use crate::engine::{LoopRange, Station, planned_hits};
use crate::routing::Latencies;
use crate::session::{Processor, Session, Strip};
use crate::units::{Frame, ProcessorId, StripId};

/// Frames computed in one piece.
pub(super) const BLOCK: usize = 1024;
/// What of the key's end is played before it begins: longer than any hold and most of any release.
pub(super) const BEFORE_S: usize = 6;

/// What was recorded of one ducker, piece by piece.
#[derive(Debug, Clone)]
pub(super) struct Trace {
    pub(super) strip: StripId,
    pub(super) processor: ProcessorId,
    pub(super) plan: SlotPlan,
    /// Where its sound and its key are.
    pub(super) before: Station,
    pub(super) slot: Slot,
    /// Frames after a hit at which it is at the ducker.
    pub(super) arrives: usize,
    /// By how much later it leaves it.
    pub(super) latency: usize,
    /// Channels whose hits are planned, those of its key.
    pub(super) planned: Vec<StripId>,
    /// Of one that keeps time: where the song is.
    pub(super) round: Option<Round>,
    /// Of key, sound before and sound behind.
    pub(super) pieces: [Pieces; 3],
    pub(super) key: Vec<f32>,
    pub(super) sound: [Vec<f32>; 2],
    pub(super) reduction_db: Vec<f32>,
    /// The key's frames from the first on, where this ducker is in focus or its hits have to be found.
    pub(super) frames: Vec<Frame>,
    /// The sound's before it, of one in focus.
    pub(super) sound_frames: Vec<Frame>,
    /// How many of those are kept.
    pub(super) sound_room: usize,
    pub(super) keeps: bool,
    /// Whether its sound is what it is in the session.
    pub(super) shown: bool,
    /// Whether anything plays on it, where its sound is not heard.
    pub(super) plays: bool,
    /// Whether it has a key.
    pub(super) keyed: bool,
}

/// How one that keeps time goes through the song: once over the end of the stretch, then round and round.
#[derive(Debug, Clone)]
pub(super) struct Round {
    pub(super) range: LoopRange,
    pub(super) ring: u64,
    /// Frames of its sound so far.
    pub(super) heard: u64,
    pub(super) starts: Beginnings,
}

/// What a processor that keeps time begins anew with.
#[derive(Debug, Clone)]
pub(super) enum Beginnings {
    Beat {
        /// Frames from one to the next.
        every: f64,
    },
    Hits(Vec<Begin>),
    Key,
}

impl Round {
    /// Where the song is with a frame of what is heard, and for how many frames it runs on.
    fn place(&self, at: u64, arrives: u64) -> (bool, u64, u64) {
        let Some(at) = at.checked_sub(arrives) else { return (false, 0, arrives - at) };
        let length = self.range.to - self.range.from;
        match at.checked_sub(self.ring) {
            None => (true, self.range.to - self.ring + at, self.ring - at),
            Some(at) => (true, self.range.from + at % length, length - at % length),
        }
    }
}

/// A trace of a processor of a strip that is yet to be heard.
///
/// * `ring` – frames that are played before the stretch.
pub(super) fn trace_of(
    session: &Session,
    latencies: &Latencies,
    strip: &Strip,
    at: usize,
    processor: &Processor,
    focus: bool,
    (range, ring): (LoopRange, u64),
) -> Trace {
    let rate = session.header.sample_rate;
    let plan = processor.slot(&session.header);
    let before = strip.chain[..at].iter().map(|p| p.settings.latency(rate));
    let keyed = processor.key.is_some_and(|key| key.source.is_some());
    let planned = session.planned(processor);
    let round = match &plan.settings {
        Settings::BeatShape(shape) => {
            let every = shape.frames(plan.place(rate));
            let starts = match planned.as_slice() {
                _ if processor.key.is_none() => Beginnings::Beat { every },
                [] => Beginnings::Key,
                // Those before the stretch count as far as two of its lengths.
                channels => {
                    let from = range.from.min(range.to - ring).saturating_sub(2 * every as u64 + 2);
                    let mut hits = planned_hits(session, channels, from, range.to);
                    hits.retain(|hit| processor.key.is_none_or(|key| hit.velocity >= key.least_velocity));
                    Beginnings::Hits(hits)
                }
            };
            Some(Round { range, ring, heard: 0, starts })
        }
        _ => None,
    };
    Trace {
        strip: strip.id,
        processor: processor.id,
        before: at.checked_sub(1).map_or(Station::Trimmed, |before| Station::Processor(strip.chain[before].id)),
        slot: Slot::new(&plan.course(rate), BLOCK),
        arrives: latencies.of(strip.id).arrives as usize + before.sum::<usize>(),
        latency: plan.latency(rate),
        keeps: focus || (planned.is_empty() && keyed),
        planned,
        round,
        pieces: Default::default(),
        key: Vec::new(),
        sound: [Vec::new(), Vec::new()],
        reduction_db: Vec::new(),
        frames: Vec::new(),
        sound_frames: Vec::new(),
        sound_room: 0,
        shown: focus,
        plays: false,
        keyed: processor.key.is_some(),
        plan,
    }
}

/// Frames that come in blocks of any size, piece by piece.
#[derive(Debug, Clone, Default)]
pub(super) struct Pieces(Vec<Frame>);

impl Pieces {
    fn take(&mut self, frames: &[Frame], mut each: impl FnMut(&[Frame])) {
        for frame in frames {
            self.0.push(*frame);
            if self.0.len() == PIECE {
                each(&self.0);
                self.0.clear();
            }
        }
    }
}

fn peak(piece: &[Frame]) -> f32 {
    piece.iter().fold(0.0, |most: f64, [l, r]| most.max(l.abs()).max(r.abs())) as f32
}

impl Trace {
    pub fn hear(&mut self, station: Station, frames: &[Frame], kept: bool) {
        let Trace { slot, pieces: [keys, before, behind], key, sound, reduction_db, round, arrives, .. } = self;
        match station {
            Station::Key(_) => {
                keys.take(frames, |piece| {
                    let reduction = match round {
                        Some(round) => round.step(slot, piece, true, *arrives as u64),
                        None => step(slot, piece),
                    };
                    if kept {
                        reduction_db.push(reduction);
                        key.push(peak(piece));
                    }
                });
                if kept && self.keeps {
                    self.frames.extend_from_slice(frames);
                }
            }
            // What listens to nothing goes by its sound.
            Station::Processor(id) if id == self.processor && !self.keyed => behind.take(frames, |piece| {
                let round = round.as_mut().map(|round| round.step(slot, &[[0.0; 2]; PIECE], false, *arrives as u64));
                if kept {
                    reduction_db.extend(round);
                    sound[1].push(peak(piece));
                }
            }),
            _ if !kept => {}
            // Of a ducker right behind another, what is behind the one is before the other.
            station if station == self.before => {
                let room = self.sound_room.saturating_sub(self.sound_frames.len());
                self.sound_frames.extend_from_slice(&frames[..room.min(frames.len())]);
                before.take(frames, |piece| sound[0].push(peak(piece)));
            }
            _ => behind.take(frames, |piece| sound[1].push(peak(piece))),
        }
    }
}

impl Round {
    /// What is taken away over the next piece at most, in dB.
    fn step(&mut self, slot: &mut Slot, key: &[Frame], keyed: bool, arrives: u64) -> f32 {
        let mut sound = [[0.0; 2]; PIECE];
        self.process(slot, &mut sound[..key.len()], keyed.then_some(key), arrives);
        slot.take_reduction_db() as f32
    }

    fn process(&mut self, slot: &mut Slot, sound: &mut [Frame], key: Option<&[Frame]>, arrives: u64) {
        let mut done = 0;
        while done < sound.len() {
            let (playing, position, left) = self.place(self.heard, arrives);
            let count = (sound.len() - done).min(left as usize);
            let starts = match &self.starts {
                Beginnings::Beat { .. } => Starts::Beat,
                Beginnings::Hits(hits) => Starts::Hits(hits),
                Beginnings::Key => Starts::Key,
            };
            let now = Moment { playing, position, starts };
            let piece = done..done + count;
            slot.process_at(&mut sound[piece.clone()], key.map(|k| &k[piece]), Silent::NO, &now);
            (done, self.heard) = (done + count, self.heard + count as u64);
        }
    }
}

/// Puts the sound before a ducker in focus through it, as it is set by a plan: the end of its key goes before, so that it
/// is as it will be.
pub(super) fn process(trace: &Trace, plan: &SlotPlan, rate: u32, sound: &mut [Frame]) {
    let mut slot = Slot::new(&plan.course(rate), BLOCK);
    let mut round = trace.round.clone();
    if let Some(round) = &mut round {
        round.heard = round.ring;
    }
    let length = trace.reduction_db.len() * PIECE;
    let end = length.min(trace.frames.len());
    let mut silence = [[0.0; 2]; BLOCK];
    if round.is_none() {
        for key in trace.frames[end - end.min(BEFORE_S * rate as usize)..end].chunks(BLOCK) {
            slot.process(&mut silence[..key.len()], Some(key), Silent::NO);
            silence.fill([0.0; 2]);
        }
    }
    for (n, block) in sound.chunks_mut(BLOCK).enumerate() {
        let key = trace.frames.get(n * BLOCK..n * BLOCK + block.len());
        match &mut round {
            Some(round) => round.process(&mut slot, block, key, trace.arrives as u64),
            None => {
                slot.process(block, key, Silent::NO);
            }
        }
    }
}

/// What a ducker takes away over a piece of its key at most, in dB.
pub(super) fn step(slot: &mut Slot, key: &[Frame]) -> f32 {
    let mut sound = [[0.0; 2]; PIECE];
    slot.process(&mut sound[..key.len()], Some(key), Silent::NO);
    slot.take_reduction_db() as f32
}
