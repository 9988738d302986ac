//! Two stretches of sound joined without a step.

use super::time::frames_of;
use lane_units::Frame;

/// Length of a join in milliseconds.
const JOIN_MS: f64 = 5.0;

/// Takes up the step where a signal's way was changed, and lets go of it in a straight line of 5 ms.
#[derive(Debug, Clone)]
pub struct Seam {
    last: Frame,
    offset: Frame,
    armed: bool,
    left: u32,
    length: u32,
}

impl Seam {
    /// At rest.
    pub fn new(sample_rate: u32) -> Self {
        let length = frames_of(JOIN_MS, sample_rate).max(1) as u32;
        Seam { last: [0.0; 2], offset: [0.0; 2], armed: false, left: 0, length }
    }

    /// Whether silence comes out of silence.
    pub fn rests(&self) -> bool {
        !self.armed && self.left == 0 && self.last == [0.0; 2]
    }

    /// The next frame comes another way.
    pub fn arm(&mut self) {
        self.armed = true;
    }

    /// Lets go of what it took up, over frames in place. Fit for the audio thread.
    pub fn run(&mut self, frames: &mut [Frame]) {
        let Some(first) = frames.first() else { return };
        if self.armed {
            self.armed = false;
            self.offset = [self.last[0] - first[0], self.last[1] - first[1]];
            self.left = self.length;
        }
        let moving = (self.left as usize).min(frames.len());
        for frame in &mut frames[..moving] {
            self.left -= 1;
            let rest = f64::from(self.left) / f64::from(self.length);
            frame[0] += self.offset[0] * rest;
            frame[1] += self.offset[1] * rest;
        }
        self.last = frames[frames.len() - 1];
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_step_becomes_a_line_of_five_milliseconds() {
        let mut seam = Seam::new(48_000);
        let mut before = [[0.8, -0.4]; 16];
        seam.run(&mut before);
        assert_eq!(before, [[0.8, -0.4]; 16]);
        seam.arm();
        let mut after = [[0.0; 2]; 400];
        seam.run(&mut after);
        let mut last = 0.8;
        for frame in after {
            assert!((frame[0] - last).abs() < 0.8 / 239.0);
            last = frame[0];
        }
        assert_eq!(after[239], [0.0; 2]);
    }
}
