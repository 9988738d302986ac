//! A recording that is heard past everything that a session does: a reference, or a finished render.

use lane_document::session::Audio;
use lane_dsp::Seam;
use lane_engine::Playhead;
use lane_units::Frame;
use serde::Deserialize;
use std::sync::Arc;

/// How a recording goes along.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Way {
    /// Whether it stands where the song stands, instead of going round by itself.
    pub follows: bool,
    /// Where it follows, the frame of the song that `from` falls on.
    pub start: u64,
    /// The first of its frames that is played, and the first that is not any more.
    pub from: u64,
    /// See `from`.
    pub to: u64,
}

impl Way {
    /// The frame of the recording at a frame of the song; none where it is silent there.
    fn at(self, song: u64) -> Option<u64> {
        let at = song.checked_sub(self.start)?.checked_add(self.from)?;
        (at < self.to).then_some(at)
    }
}

/// A recording that is played.
#[derive(Debug, Clone)]
pub struct Recording {
    audio: Arc<Audio>,
    way: Way,
    /// The frame that comes next, where it goes round by itself.
    at: u64,
    playing: bool,
    /// The frame of the song that goes on from the last one.
    expected: u64,
    seam: Seam,
}

impl Recording {
    /// At rest, at its beginning. What lies outside the recording is left out of its way.
    pub fn new(audio: Arc<Audio>, way: Way, sample_rate: u32) -> Self {
        let to = way.to.min(audio.frames() as u64);
        let way = Way { from: way.from.min(to), to, ..way };
        Recording { audio, way, at: way.from, playing: false, expected: 0, seam: Seam::new(sample_rate) }
    }

    /// Plays from here on as if it had come from here before, without a seam.
    pub(crate) fn begin_plainly(&mut self, head: Playhead) {
        (self.playing, self.expected) = (head.playing, head.position);
    }

    /// Plays the next frames; where the song stands before them is said. Fit for the audio thread.
    pub fn process(&mut self, head: Playhead, frames: &mut [Frame]) {
        if head.playing != self.playing {
            self.seam.arm();
            // By itself it begins anew with the song.
            (self.playing, self.at) = (head.playing, self.way.from);
        }
        if !self.playing || self.way.from == self.way.to {
            frames.fill([0.0; 2]);
            return self.seam.run(frames);
        }
        if self.way.follows {
            self.follow(head, frames);
        } else {
            self.go_round(frames);
        }
    }

    fn follow(&mut self, head: Playhead, frames: &mut [Frame]) {
        let mut rest = frames;
        for (song, count) in head.stretches(rest.len()) {
            if song != self.expected {
                self.seam.arm();
            }
            self.expected = song + count as u64;
            let (piece, after) = rest.split_at_mut(count);
            for (n, frame) in piece.iter_mut().enumerate() {
                *frame = self.way.at(song + n as u64).map_or([0.0; 2], |at| sound(&self.audio, at));
            }
            self.seam.run(piece);
            rest = after;
        }
    }

    fn go_round(&mut self, frames: &mut [Frame]) {
        let mut rest = frames;
        while !rest.is_empty() {
            if self.at == self.way.to {
                self.at = self.way.from;
                self.seam.arm();
            }
            let count = rest.len().min((self.way.to - self.at) as usize);
            let (piece, after) = rest.split_at_mut(count);
            for (n, frame) in piece.iter_mut().enumerate() {
                *frame = sound(&self.audio, self.at + n as u64);
            }
            self.at += count as u64;
            self.seam.run(piece);
            rest = after;
        }
    }
}

fn sound(audio: &Audio, at: u64) -> Frame {
    audio.frame(at as isize).map(f64::from)
}
