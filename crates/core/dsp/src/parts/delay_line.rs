//! Frames kept for a while.

use lane_units::Frame;

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

    /// The longest delay that there is room for.
    pub fn room(&self) -> usize {
        self.kept.len() - 1
    }

    /// Holds what another one does, as far as there is room.
    pub fn take_over(&mut self, other: &DelayLine) {
        let count = self.kept.len().min(other.kept.len());
        let length = other.kept.len();
        let start = (other.next + length - count) % length;
        let first = count.min(length - start);
        self.kept[..first].copy_from_slice(&other.kept[start..start + first]);
        self.kept[first..count].copy_from_slice(&other.kept[..count - first]);
        self.kept[count..].fill([0.0; 2]);
        self.next = count % self.kept.len();
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

    /// Takes a block at a gain.
    pub fn push_at(&mut self, frames: &[Frame], gain: f64) {
        for frame in frames {
            self.step(frame.map(|x| x * gain), 0);
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
    /// Frames since something other than silence was taken.
    quiet: usize,
    delay: usize,
    /// The length before, and the frames left of the move away from it.
    before: usize,
    left: u32,
    fade: u32,
}

impl MovingDelay {
    /// At rest, waiting `delay` frames; a change is faded over `fade_ms`. Allocates.
    pub fn new(delay: usize, fade_ms: f64, sample_rate: u32) -> Self {
        let fade = super::time::frames_of(fade_ms, sample_rate).max(1) as u32;
        MovingDelay { line: DelayLine::new(delay), quiet: delay + 1, delay, before: delay, left: 0, fade }
    }

    /// Whether it has room for a length.
    pub fn fits(&self, delay: usize) -> bool {
        delay <= self.line.room()
    }

    /// Another length, for which it has room.
    pub fn go_to(&mut self, delay: usize) {
        if delay != self.delay {
            (self.before, self.delay, self.left) = (self.delay, delay, self.fade);
        }
    }

    /// Remembers at least so much. Allocates where it has to.
    pub fn make_room(&mut self, frames: usize) {
        self.line.make_room(frames);
    }

    /// Goes on from where another one stands, as far as there is room; its own length comes in over the fade.
    pub fn take_over(&mut self, other: &MovingDelay) {
        self.line.take_over(&other.line);
        self.quiet = other.quiet.min(self.line.room());
        if other.delay != self.delay {
            (self.before, self.left) = (other.delay, self.fade);
        }
    }

    /// Whether what it gives is not what it takes.
    pub fn waits(&self) -> bool {
        self.delay > 0 || self.left > 0
    }

    /// Whether it stands still and remembers silence alone.
    pub fn rests(&self) -> bool {
        self.left == 0 && self.quiet > self.line.room()
    }

    /// Takes a frame without giving one.
    #[inline]
    pub fn push(&mut self, frame: Frame) {
        self.quiet = if frame == [0.0; 2] { self.quiet.saturating_add(1) } else { 0 };
        self.line.step(frame, 0);
    }

    /// Takes a block without giving one.
    pub fn push_all(&mut self, frames: &[Frame]) {
        let silent = frames.iter().rev().take_while(|f| **f == [0.0; 2]).count();
        self.quiet = if silent == frames.len() { self.quiet.saturating_add(silent) } else { silent };
        self.line.push(frames);
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
        self.quiet = self.line.room() + 1;
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
