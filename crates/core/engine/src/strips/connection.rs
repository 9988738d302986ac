//! What runs from one strip to another: an output, a send, a key.

use crate::strips::matrix::Matrix;
use crate::strips::ring::{Ring, Turn};
use lane_dsp::Ramp;
use lane_units::Frame;

/// Where along a strip a connection takes its sound.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Source {
    Out,
    AfterChain,
}

/// A connection at work.
pub(crate) struct Connection {
    pub gain: Ramp<4>,
    pub from: usize,
    pub to: usize,
    /// The processor whose key it feeds.
    pub slot: Option<usize>,
    pub source: Source,
    /// Frames that it waits for the latest of what arrives together.
    pub wait: usize,
}

/// A place where sounds come together: nothing is in it before the first comes.
pub(crate) struct Meeting {
    pub frames: Vec<Frame>,
    pub silent: bool,
}

impl Meeting {
    /// Allocates.
    pub fn new(capacity: usize) -> Self {
        Meeting { frames: vec![[0.0; 2]; capacity], silent: true }
    }

    /// Puts a sound in, which comes in pieces one behind the other.
    pub fn add(&mut self, pieces: [&[Frame]; 2], mut change: impl FnMut(Frame) -> Frame) {
        let mut at = 0;
        for piece in pieces {
            let to = &mut self.frames[at..at + piece.len()];
            at += piece.len();
            if self.silent {
                to.iter_mut().zip(piece).for_each(|(t, f)| *t = change(*f));
            } else {
                for (t, f) in to.iter_mut().zip(piece) {
                    let [l, r] = change(*f);
                    *t = [t[0] + l, t[1] + r];
                }
            }
        }
        self.silent = false;
    }
}

impl Connection {
    /// Carries a block over.
    pub fn run(&mut self, ring: &Ring, turn: Turn, to: &mut Meeting, count: usize) {
        if ring.is_silent(self.wait, count) || self.gain.rests_at(Matrix::NOTHING.0) {
            return self.gain.pass(count);
        }
        let pieces = ring.past(turn, self.wait, count);
        if self.gain.moves() {
            to.add(pieces, |frame| Matrix::apply(self.gain.step(), frame));
        } else {
            let gains = self.gain.target();
            match gains {
                [1.0, 0.0, 0.0, 1.0] => to.add(pieces, |frame| frame),
                [l, 0.0, 0.0, r] => to.add(pieces, |frame| [l * frame[0], r * frame[1]]),
                _ => to.add(pieces, |frame| Matrix::apply(gains, frame)),
            }
        }
    }
}
