//! A processor that is played to again by itself: what it takes away, or does to a sound, with any settings.

use crate::run::{BLOCK, PIECE};
use lane_dsp::{Begin, Moment, Silent, Slot, SlotPlan, Starts};
use lane_engine::LoopRange;
use lane_units::Frame;

/// What of a key's end is played before it begins, in s: longer than any hold and most of any release.
const BEFORE_S: usize = 6;

/// How one that keeps time goes through the song: once over the end of the stretch, then round and round.
#[derive(Debug, Clone)]
pub(crate) struct Round {
    pub range: LoopRange,
    pub ring: u64,
    /// Frames after a hit at which it is at the processor.
    pub arrives: u64,
    /// Frames of its sound so far.
    pub heard: u64,
    pub starts: Beginnings,
}

/// What a processor that keeps time begins anew with.
#[derive(Debug, Clone)]
pub(crate) enum Beginnings {
    Beat {
        /// Frames from one to the next.
        every: f64,
    },
    Hits(Vec<Begin>),
    Key,
}

impl Round {
    /// Where the song is with a frame of what is heard, and for how many frames it runs on.
    fn place(&self, at: u64) -> (bool, u64, u64) {
        let Some(at) = at.checked_sub(self.arrives) else { return (false, 0, self.arrives - at) };
        let length = self.range.to - self.range.from;
        match at.checked_sub(self.ring) {
            None => (true, self.range.to - self.ring + at, self.ring - at),
            Some(at) => (true, self.range.from + at % length, length - at % length),
        }
    }

    fn process(&mut self, slot: &mut Slot, sound: &mut [Frame], key: Option<&[Frame]>) {
        let mut done = 0;
        while done < sound.len() {
            let (playing, position, left) = self.place(self.heard);
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

/// A processor on its way through what it is played.
#[derive(Debug, Clone)]
pub(crate) struct Replay {
    slot: Slot,
    rate: u32,
    /// Of one that keeps time: where the song is.
    pub round: Option<Round>,
}

impl Replay {
    /// One that was never played to.
    pub fn new(plan: &SlotPlan, rate: u32, round: Option<Round>) -> Self {
        Replay { slot: Slot::new(&plan.course(rate), BLOCK), rate, round }
    }

    /// Another plan from where the stretch begins, as it will be there: where it does not keep time, the end of the key
    /// goes before.
    ///
    /// * `key` – of one round of the stretch.
    pub fn again(&self, plan: &SlotPlan, key: &[Frame]) -> Self {
        let round = self.round.clone().map(|round| Round { heard: round.ring, ..round });
        let mut replay = Replay::new(plan, self.rate, round);
        if replay.round.is_none() {
            let before = key.len().min(BEFORE_S * self.rate as usize);
            replay.reductions(&key[key.len() - before..]);
        }
        replay
    }

    /// Processes a piece of sound in place, [`BLOCK`] frames at most; gives what is taken away over it at most, in dB.
    pub fn step(&mut self, sound: &mut [Frame], key: Option<&[Frame]>) -> f32 {
        match &mut self.round {
            Some(round) => round.process(&mut self.slot, sound, key),
            None => {
                self.slot.process(sound, key, Silent::NO);
            }
        }
        self.slot.take_reduction_db() as f32
    }

    /// What is taken away over the next piece of a key at most, in dB.
    pub fn hear(&mut self, key: &[Frame]) -> f32 {
        let mut sound = [[0.0; 2]; PIECE];
        self.step(&mut sound[..key.len()], Some(key))
    }

    /// What is taken away as a key goes on, piece by piece.
    pub fn reductions(&mut self, key: &[Frame]) -> Vec<f32> {
        key.chunks(PIECE).map(|piece| self.hear(piece)).collect()
    }
}
