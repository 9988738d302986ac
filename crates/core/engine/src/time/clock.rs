//! Where in the song a sound is that comes some frames late, and what its key hits there.

use crate::time::score::Lead;
use crate::time::score::{Grid, in_order};
use arrayvec::ArrayVec;
use lane_document::session::{KEY_SOURCES, Key};
use lane_dsp::Begin;
use lane_units::Frame;

/// Starts, stops and jumps that are remembered.
const MARKS: usize = 64;

/// From a frame of the clock on, the song runs from a position, or stands still.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Mark {
    at: u64,
    playing: bool,
    position: u64,
}

/// A stretch of a block within which the song runs on, or stands still.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Span {
    pub frames: usize,
    pub playing: bool,
    /// Of its first frame, in frames from bar 1.
    pub position: u64,
}

/// Counts frames and remembers where the song started, stopped and jumped.
#[derive(Debug, Clone)]
pub struct Clock {
    now: u64,
    marks: [Mark; MARKS],
    /// The latest one.
    last: usize,
}

impl Clock {
    pub fn new() -> Self {
        Clock { now: 0, marks: [Mark { at: 0, playing: false, position: 0 }; MARKS], last: 0 }
    }

    /// Where the song stands with the next block.
    pub fn note(&mut self, playing: bool, position: u64) {
        let mark = self.marks[self.last];
        let goes_on = mark.playing == playing && (!playing || mark.position + (self.now - mark.at) == position);
        if !goes_on {
            self.last = (self.last + 1) % MARKS;
            self.marks[self.last] = Mark { at: self.now, playing, position };
        }
    }

    pub fn pass(&mut self, frames: usize) {
        self.now += frames as u64;
    }

    /// The stretches of the next block of what comes so many frames late.
    pub fn spans(&self, late: u64, frames: usize) -> impl Iterator<Item = Span> {
        let mut done = 0;
        std::iter::from_fn(move || {
            let left = frames - done;
            if left == 0 {
                return None;
            }
            let at = (self.now + done as u64).checked_sub(late);
            let Some(at) = at else {
                // Nothing was before the first frame.
                let early = (late - self.now - done as u64).min(left as u64) as usize;
                done += early;
                return Some(Span { frames: early, playing: false, position: 0 });
            };
            // Marks stand in a ring, the latest first as one goes back.
            let mut until = u64::MAX;
            let mut found = self.marks[self.last];
            for back in 0..MARKS {
                let mark = self.marks[(self.last + MARKS - back) % MARKS];
                if mark.at > found.at {
                    break;
                }
                found = mark;
                if mark.at <= at {
                    break;
                }
                until = mark.at;
            }
            let count = (until.saturating_sub(at)).min(left as u64).max(1) as usize;
            done += count;
            Some(Span { frames: count, playing: found.playing, position: found.position + at.saturating_sub(found.at) })
        })
    }
}

/// Frames that are looked ahead, and how far it is looked back for hits before a block.
const AHEAD: u64 = 4096;
const BACK: u64 = 1 << 21;
/// Hits known at most.
const MOST: usize = 512;
/// Hits before a block that matter.
const BEFORE: usize = 3;

/// Strips whose voices plan the hits of a key; none where they are heard.
pub type PlannedBy = ArrayVec<u16, KEY_SOURCES>;

/// How a key hears hits that are known beforehand.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Weighing {
    /// How much softer ones are made as loud as hard ones, 0 to 1.
    pub even: f64,
    /// Softer ones are not heard.
    pub least: u8,
}

/// The most by which a hit is made louder, linear.
const MOST_GAIN: f64 = 16.0;

impl Weighing {
    /// As they sound.
    pub const WHOLE: Weighing = Weighing { even: 0.0, least: 1 };

    pub fn of(key: Key) -> Self {
        Weighing { even: key.even_percent / 100.0, least: key.least_velocity }
    }

    fn gain(self, hit: Begin) -> f64 {
        if hit.velocity < self.least {
            return 0.0;
        }
        // A velocity's gain is its square, as far as it moves the level.
        let by = 2.0 * self.even * f64::from(hit.moves_percent) / 100.0;
        libm::pow(127.0 / f64::from(hit.velocity), by).min(MOST_GAIN)
    }

    /// What is heard of a key from a frame of the song on: from each hit to the next at that one's gain.
    pub fn weigh(self, hits: &[Begin], position: u64, key: &mut [Frame]) {
        let mut next = hits.partition_point(|hit| hit.at <= position);
        let mut gain = next.checked_sub(1).map_or(1.0, |at| self.gain(hits[at]));
        for (n, frame) in key.iter_mut().enumerate() {
            while hits.get(next).is_some_and(|hit| hit.at <= position + n as u64) {
                gain = self.gain(hits[next]);
                next += 1;
            }
            if gain != 1.0 {
                *frame = frame.map(|x| x * gain);
            }
        }
    }
}

/// Hits of some lanes around a block, as far as their voices plan them.
#[derive(Debug, Clone)]
pub struct Planned {
    hits: Vec<Begin>,
    /// Softer ones are left out.
    least: u8,
    /// All hits are known from the first of `BEFORE` before this frame up to the other.
    from: u64,
    to: u64,
}

impl Planned {
    /// Allocates.
    pub fn new() -> Self {
        Planned { hits: Vec::with_capacity(MOST + 1), least: 0, from: 1, to: 0 }
    }

    /// What was known holds no more.
    pub fn forget(&mut self) {
        (self.from, self.to) = (1, 0);
    }

    /// Hits of the voices of some strips around a span, none softer than a velocity: some before it, all within it. Fit for
    /// the audio thread.
    pub(crate) fn around(&mut self, leads: &[Lead], strips: &[u16], grid: &Grid, span: Span, least: u8) -> &[Begin] {
        if least != self.least {
            self.forget();
            self.least = least;
        }
        let (from, to) = (span.position, span.position + span.frames as u64);
        if !(self.from..=self.to).contains(&from) {
            self.look_back(leads, strips, grid, from);
        }
        while self.to < to {
            self.to = self.look(leads, strips, grid, self.to, self.to + AHEAD);
        }
        self.from = from;
        let before = self.hits.partition_point(|hit| hit.at < from);
        self.hits.drain(..before.saturating_sub(BEFORE));
        &self.hits
    }

    /// Adds the hits of a stretch behind those that are known; gives the frame up to which all are known, since there is
    /// no end of room.
    fn look(&mut self, leads: &[Lead], strips: &[u16], grid: &Grid, from: u64, mut to: u64) -> u64 {
        if self.hits.len() > MOST / 2 {
            // Those long before make room.
            self.hits.drain(..self.hits.len() - BEFORE);
        }
        let known = self.hits.len();
        loop {
            let mut whole = true;
            for lead in leads.iter().filter(|lead| strips.contains(&(lead.strip as u16))) {
                lead.score.sounds_in(grid, from, to, &mut |event| {
                    let hit = event.begin(lead.score.moves_percent);
                    if hit.velocity < self.least {
                        return true;
                    }
                    whole = self.hits.len() < MOST;
                    if whole {
                        self.hits.push(hit);
                    }
                    whole
                });
            }
            if whole || to - from <= 1 {
                break;
            }
            self.hits.truncate(known);
            to = from + (to - from) / 2;
        }
        in_order(&mut self.hits, known);
        to
    }

    fn look_back(&mut self, leads: &[Lead], strips: &[u16], grid: &Grid, position: u64) {
        let mut back = AHEAD;
        loop {
            let low = position.saturating_sub(back);
            self.hits.clear();
            let mut at = low;
            while at < position {
                at = self.look(leads, strips, grid, at, position);
            }
            if self.hits.len() >= BEFORE || low == 0 || back >= BACK {
                break;
            }
            back *= 4;
        }
        (self.from, self.to) = (position, position);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_comes_late_is_where_the_song_was() {
        let blocks = [(false, 0, 10), (true, 100, 16), (true, 116, 16), (true, 50, 8), (false, 58, 20), (true, 7, 30)];
        let mut expected = Vec::new();
        for (playing, position, frames) in blocks {
            expected.extend((0..frames).map(|n| (playing, if playing { position + n } else { 0 })));
        }
        for late in [0_usize, 1, 9, 40] {
            let mut found = Vec::new();
            let mut clock = Clock::new();
            for (playing, position, frames) in blocks {
                clock.note(playing, position);
                for span in clock.spans(late as u64, frames as usize) {
                    let each = |n| (span.playing, if span.playing { span.position + n } else { 0 });
                    found.extend((0..span.frames as u64).map(each));
                }
                clock.pass(frames as usize);
            }
            let mut wanted = vec![(false, 0); late];
            wanted.extend(&expected[..expected.len() - late]);
            assert_eq!(found, wanted, "late by {late}");
        }
    }

    #[test]
    fn more_jumps_than_are_remembered_cost_the_oldest() {
        let mut clock = Clock::new();
        for n in 0..200 {
            clock.note(true, 1000 * n);
            clock.pass(10);
        }
        let spans: Vec<Span> = clock.spans(400, 10).collect();
        assert_eq!(spans.iter().map(|s| s.frames).sum::<usize>(), 10);
        assert!(spans.iter().all(|s| s.playing && s.position >= 150_000), "{spans:?}");
    }
}
