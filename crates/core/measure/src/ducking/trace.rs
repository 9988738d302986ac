//! One ducker while the stretch is played: what it hears, gets and takes away, piece by piece.

use crate::replay::{Beginnings, Replay, Round};
use crate::run::{BLOCK, PIECE};
use lane_document::routing::Latencies;
use lane_document::session::{Processor, Session, Strip};
use lane_dsp::{Settings, SlotPlan};
use lane_engine::{LoopRange, Station, planned_hits};
use lane_units::{Frame, ProcessorId, StripId};

/// What was recorded of one ducker, piece by piece.
#[derive(Debug, Clone)]
pub(super) struct Trace {
    pub(super) strip: StripId,
    pub(super) processor: ProcessorId,
    pub(super) plan: SlotPlan,
    /// Where its sound and its key are.
    pub(super) before: Station,
    pub(super) replay: Replay,
    /// Frames after a hit at which it is at the ducker.
    pub(super) arrives: usize,
    /// By how much later it leaves it.
    pub(super) latency: usize,
    /// Channels whose hits are planned, those of its key.
    pub(super) planned: Vec<StripId>,
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
    let arrives = latencies.of(strip.id).arrives as usize + before.sum::<usize>();
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
            Some(Round { range, ring, arrives: arrives as u64, heard: 0, starts })
        }
        _ => None,
    };
    Trace {
        strip: strip.id,
        processor: processor.id,
        before: at.checked_sub(1).map_or(Station::Trimmed, |before| Station::Processor(strip.chain[before].id)),
        replay: Replay::new(&plan, rate, round),
        arrives,
        latency: plan.latency(rate),
        keeps: focus || (planned.is_empty() && keyed),
        planned,
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
        let Trace { replay, pieces: [keys, before, behind], key, sound, reduction_db, .. } = self;
        match station {
            Station::Key(_) => {
                keys.take(frames, |piece| {
                    let reduction = replay.hear(piece);
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
                let reduction = replay.round.is_some().then(|| replay.step(&mut [[0.0; 2]; PIECE], None));
                if kept {
                    reduction_db.extend(reduction);
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

impl Trace {
    /// Puts the sound before a ducker in focus through it, as it is set by a plan.
    pub fn process(&self, plan: &SlotPlan, sound: &mut [Frame]) {
        let length = self.reduction_db.len() * PIECE;
        let mut replay = self.replay.again(plan, &self.frames[..length.min(self.frames.len())]);
        for (n, block) in sound.chunks_mut(BLOCK).enumerate() {
            let key = self.frames.get(n * BLOCK..n * BLOCK + block.len());
            replay.step(block, key);
        }
    }
}
