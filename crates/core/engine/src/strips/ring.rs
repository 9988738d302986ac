//! What sounded lately, written where it is made: a block is a place in a ring, and what waits is read further back.

use lane_units::Frame;

/// Where all rings of an engine stand. Blocks never run over their end.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Turn {
    pub length: usize,
    pub at: usize,
}

impl Turn {
    /// Frames until the end.
    pub fn room(self) -> usize {
        self.length - self.at
    }

    pub fn pass(&mut self, frames: usize) {
        self.at = (self.at + frames) % self.length;
    }
}

/// Frames of room behind each ring. All rings turn together; of lengths that are powers of two, their blocks would lie in the
/// same few sets of a processor's caches.
const APART: usize = 132;

/// The newest frames of one station.
#[derive(Debug, Clone)]
pub(crate) struct Ring {
    frames: Vec<Frame>,
    /// Frames of silence at its newest end, the block under way included once it is made.
    quiet: usize,
    /// Whether something is in the block under way; for whoever fills it.
    pub sounding: bool,
}

impl Ring {
    /// Allocates.
    pub fn new(length: usize) -> Self {
        let mut frames = Vec::with_capacity(length + APART);
        frames.resize(length, [0.0; 2]);
        Ring { frames, quiet: length, sounding: false }
    }

    /// The block under way, to be filled.
    pub fn block(&mut self, turn: Turn, count: usize) -> &mut [Frame] {
        &mut self.frames[turn.at..turn.at + count]
    }

    /// The block under way.
    pub fn now(&self, turn: Turn, count: usize) -> &[Frame] {
        &self.frames[turn.at..turn.at + count]
    }

    /// The block under way is made.
    pub fn made(&mut self, count: usize, silent: bool) {
        self.quiet = if silent { self.quiet.saturating_add(count) } else { 0 };
    }

    /// Makes the block under way silence; nothing is written where all of it is silence already. To be followed by
    /// [`Ring::made`].
    pub fn silence(&mut self, turn: Turn, count: usize) {
        if self.quiet < self.frames.len() {
            self.block(turn, count).fill([0.0; 2]);
        }
    }

    /// Whether the block of `wait` frames ago is silence, once the block under way is made.
    pub fn is_silent(&self, wait: usize, count: usize) -> bool {
        self.quiet >= wait + count
    }

    /// The block of `wait` frames ago, in one or two pieces.
    pub fn past(&self, turn: Turn, wait: usize, count: usize) -> [&[Frame]; 2] {
        let from = (turn.at + turn.length - wait) % turn.length;
        let first = count.min(turn.length - from);
        [&self.frames[from..from + first], &self.frames[..count - first]]
    }

    /// The frame of so many frames before the block under way; 0 is the one just before it.
    pub fn back(&self, turn: Turn, age: usize) -> Frame {
        self.frames[(turn.at + 2 * turn.length - 1 - age.min(turn.length - 1)) % turn.length]
    }

    /// Holds what a shorter one held, seen from the start.
    pub fn take_over(&mut self, old: &Ring, turn: Turn) {
        let [first, second] = [&old.frames[turn.at..], &old.frames[..turn.at]];
        let end = self.frames.len();
        let kept = old.frames.len();
        self.frames[end - kept..end - turn.at].copy_from_slice(first);
        self.frames[end - turn.at..].copy_from_slice(second);
        self.quiet = if old.quiet >= kept { end } else { old.quiet };
    }
}
