//! Frames kept for a while.

use crate::units::Frame;

/// A delay of whole frames, up to a length that [`DelayLine::make_room`] sets.
#[derive(Debug, Clone)]
pub struct DelayLine {
    kept: Vec<Frame>,
    next: usize,
}

impl DelayLine {
    /// Room for delays of up to `frames`.
    pub fn new(frames: usize) -> Self {
        DelayLine { kept: vec![[0.0; 2]; frames + 1], next: 0 }
    }

    /// Room for longer delays; what it holds stays. Allocates where it has to.
    pub fn make_room(&mut self, frames: usize) {
        if frames < self.kept.len() {
            return;
        }
        let mut kept = vec![[0.0; 2]; frames + 1];
        let old = self.kept.len();
        // The newest frame lands at the end of the old length, so that reading backwards finds all of them.
        for age in 1..=old {
            kept[old - age] = self.kept[(self.next + old - age) % old];
        }
        self.next = old % kept.len();
        self.kept = kept;
    }

    /// Takes a frame and gives the one of `delay` frames ago; 0 is the same frame.
    #[inline]
    pub fn step(&mut self, frame: Frame, delay: usize) -> Frame {
        let length = self.kept.len();
        self.kept[self.next] = frame;
        let back = delay.min(length - 1);
        let at = if self.next >= back { self.next - back } else { self.next + length - back };
        let out = self.kept[at];
        self.next += 1;
        if self.next == length {
            self.next = 0;
        }
        out
    }

    /// Takes a block.
    pub fn push(&mut self, frames: &[Frame]) {
        let length = self.kept.len();
        for piece in frames.chunks(length) {
            let first = piece.len().min(length - self.next);
            self.kept[self.next..self.next + first].copy_from_slice(&piece[..first]);
            self.kept[..piece.len() - first].copy_from_slice(&piece[first..]);
            self.next = (self.next + piece.len()) % length;
        }
    }

    /// Gives the block that ends `delay` frames before the frame taken last. Room for `delay` frames and the
    /// block is needed.
    pub fn read(&self, delay: usize, block: &mut [Frame]) {
        let length = self.kept.len();
        let back = (delay + block.len()).min(length);
        let start = (self.next + length - back) % length;
        let first = block.len().min(length - start);
        let (head, tail) = block.split_at_mut(first);
        head.copy_from_slice(&self.kept[start..start + first]);
        tail.copy_from_slice(&self.kept[..tail.len()]);
    }

    /// The frame of `delay` frames before the one taken last.
    #[inline]
    pub fn back(&self, delay: usize) -> Frame {
        let length = self.kept.len();
        let at = self.next + length - 1 - delay.min(length - 1);
        self.kept[if at >= length { at - length } else { at }]
    }

    /// Delays a block in place, in pieces as long as there is room beside the delay.
    pub fn run(&mut self, frames: &mut [Frame], delay: usize) {
        let delay = delay.min(self.kept.len() - 1);
        for piece in frames.chunks_mut(self.kept.len() - delay) {
            self.push(piece);
            if delay > 0 {
                self.read(delay, piece);
            }
        }
    }

    /// Forgets everything.
    pub fn reset(&mut self) {
        self.kept.fill([0.0; 2]);
    }
}

/// A delay whose length changes by fading over.
#[derive(Debug, Clone)]
pub struct MovingDelay {
    line: DelayLine,
    delay: usize,
    /// The length before, and the frames left of the move away from it.
    before: usize,
    left: u32,
    fade: u32,
}

impl MovingDelay {
    pub fn new(delay: usize, fade_ms: f64, sample_rate: u32) -> Self {
        let fade = super::frames_of(fade_ms, sample_rate).max(1) as u32;
        MovingDelay { line: DelayLine::new(delay), delay, before: delay, left: 0, fade }
    }

    /// Another length. Allocates where it has to.
    pub fn go_to(&mut self, delay: usize) {
        if delay != self.delay {
            self.line.make_room(delay);
            (self.before, self.delay, self.left) = (self.delay, delay, self.fade);
        }
    }

    /// Remembers at least so much.
    pub fn make_room(&mut self, frames: usize) {
        self.line.make_room(frames);
    }

    /// Takes a frame without giving one.
    pub fn push(&mut self, frame: Frame) {
        self.line.step(frame, 0);
    }

    /// The frame of so long ago, seen from the one that was taken last.
    #[inline]
    pub fn read(&mut self) -> Frame {
        self.read_ahead(0)
    }

    /// The frame that will be due after so many more, at most as many as it is long.
    #[inline]
    pub fn read_ahead(&mut self, frames: usize) -> Frame {
        let mut out = self.line.back(self.delay.saturating_sub(frames));
        if self.left > 0 {
            self.left -= 1;
            let old = self.line.back(self.before.saturating_sub(frames));
            let rest = f64::from(self.left) / f64::from(self.fade);
            out = [out[0] + rest * (old[0] - out[0]), out[1] + rest * (old[1] - out[1])];
        }
        out
    }

    /// Takes a frame and gives the one of so long ago.
    #[inline]
    pub fn step(&mut self, frame: Frame) -> Frame {
        self.push(frame);
        self.read()
    }

    /// Forgets everything.
    pub fn reset(&mut self) {
        self.line.reset();
        self.left = 0;
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case(0)]
    #[case(1)]
    #[case(7)]
    fn frames_come_back_later(#[case] delay: usize) {
        let mut line = DelayLine::new(7);
        for n in 0..40 {
            let out = line.step([n as f64 + 1.0, 0.0], delay);
            let expected = if n < delay { 0.0 } else { (n - delay) as f64 + 1.0 };
            assert_eq!(out[0], expected, "frame {n}");
        }
    }

    #[test]
    fn blocks_come_back_later_too() {
        let sound: Vec<Frame> = (0..200).map(|n| [f64::from(n) + 1.0, 0.0]).collect();
        for (block, delay) in [(1, 0), (7, 3), (16, 0), (16, 24), (40, 1)] {
            let mut line = DelayLine::new(40);
            let mut out = Vec::new();
            for piece in sound.chunks(block) {
                line.push(piece);
                let mut read = piece.to_vec();
                line.read(delay, &mut read);
                out.extend(read);
            }
            assert_eq!(out[..delay], vec![[0.0; 2]; delay]);
            assert_eq!(out[delay..], sound[..200 - delay], "blocks of {block}");
        }
    }

    #[test]
    fn more_room_keeps_what_was_there() {
        for seen in 1..12 {
            let mut line = DelayLine::new(4);
            for n in 0..seen {
                line.step([f64::from(n), 0.0], 0);
            }
            line.make_room(9);
            assert_eq!(line.step([99.0, 0.0], 3)[0], f64::from((seen - 3).max(0)), "after {seen}");
            assert_eq!(line.step([98.0, 0.0], 1)[0], 99.0);
        }
    }
}
