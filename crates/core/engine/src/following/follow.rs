//! The engine follows what the compiler said, a block's worth at a time.

use crate::engine::Engine;
use crate::following::build::{self, Next, Standing};
use crate::following::compile::Record;
use lane_dsp::Slot;
use lane_units::Reader;

/// Weights that are worked out within one block, and pages that are made.
const WEIGHTS: usize = 4000;
const NEW_PAGES: usize = 32;

impl Engine {
    /// Follows about so many words, and frees and makes a little of what waits for it.
    pub(crate) fn go_on(&mut self, most: usize) {
        let mut done = 0;
        while self.is_busy() && done < most {
            match self.follow() {
                Some(cost) => done += cost,
                // Words that are not whole are of no use.
                None => {
                    self.next = None;
                    self.followed = self.pending.len();
                }
            }
        }
        if !self.is_busy() {
            self.pending.clear();
            self.followed = 0;
        }
    }

    /// Does what waits for a moment: frees one thing, works out a few weights, makes a little room.
    pub(crate) fn tend(&mut self) {
        drop(self.gone.pop());
        self.reading.kernels.go_on(WEIGHTS);
        if self.reading.kept.is_full() {
            self.reading.kept.grow(NEW_PAGES);
        }
    }

    /// Follows the next record, or makes a part of it; gives what it took.
    fn follow(&mut self) -> Option<usize> {
        if let Some(mut next) = self.next.take() {
            let pending = std::mem::take(&mut self.pending);
            let mut words = Reader::new(&pending[self.followed..]);
            let Engine { strips, turn, capacity, sample_rate, .. } = self;
            let standing = Standing { strips, length: turn.length, capacity: *capacity, sample_rate: *sample_rate };
            let cost = next.step(&mut words, &standing);
            self.followed = pending.len() - words.left();
            self.pending = pending;
            if next.is_whole() {
                self.stand_in(next);
                self.structures += 1;
            } else {
                self.next = Some(next);
            }
            return cost;
        }
        let pending = std::mem::take(&mut self.pending);
        let mut words = Reader::new(&pending[self.followed..]);
        let (record, size) = (words.number()?, words.count()?);
        let record = Record::of(record)?;
        let mut of_record = words.take(size)?;
        if record == Record::Structure {
            let next = Next::begin(&mut of_record, self.capacity)?;
            self.followed += 2 + size - of_record.left();
            self.pending = pending;
            if next.is_whole() {
                self.stand_in(Box::new(next));
                self.structures += 1;
            } else {
                self.next = Some(Box::new(next));
            }
            return Some(size / 8);
        }
        let followed = self.follow_record(record, &mut of_record);
        self.followed += 2 + size;
        self.pending = pending;
        followed?;
        Some(size + 8)
    }

    fn follow_record(&mut self, record: Record, words: &mut Reader) -> Option<()> {
        match record {
            Record::Structure => {}
            Record::Grid => {
                self.grid.take(words)?;
                self.forget_hits();
            }
            Record::Gains => {
                let strip = self.strips.get_mut(words.count()?)?;
                strip.trim.go_to([words.number()?], self.sample_rate);
                strip.post.go_to(words.array()?, self.sample_rate);
            }
            Record::Link => {
                let link = self.connections.get_mut(words.count()?)?;
                link.gain.go_to(words.array()?, self.sample_rate);
            }
            Record::Slot => {
                let (strip, slot) = (words.count()?, words.count()?);
                let (key, course) = build::read_slot(words)?;
                let strip = self.strips.get_mut(strip)?;
                let state = strip.slots.get_mut(slot)?;
                state.tune(&key);
                if state.slot.fits(&course) {
                    state.slot.set(&course);
                } else {
                    // Another space, or a longer delay than there is room for.
                    let mut fresh = Slot::new(&course, self.capacity);
                    std::mem::swap(&mut fresh, &mut state.slot);
                    state.slot.inherit(fresh);
                    strip.chain_seam.arm();
                }
            }
            Record::Source => {
                let player = self.players.get_mut(words.count()?)?;
                player.take_source(words)?;
            }
            Record::Feel => {
                let lead = self.leads.get_mut(words.count()?)?;
                lead.score.take_feel(words)?;
                self.forget_hits();
            }
            Record::Part => {
                let lead = self.leads.get_mut(words.count()?)?;
                lead.score.take_part(words)?;
                self.forget_hits();
            }
            Record::Kernels => {
                while words.left() > 0 {
                    self.reading.kernels.want(words.count()?);
                }
                self.reading.kept.reserve();
            }
        }
        Some(())
    }
}
