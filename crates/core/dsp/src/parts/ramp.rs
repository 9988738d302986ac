//! Values that move without a click: straight lines of 5 ms, the same for every block size.

use lane_units::Frame;

/// Length of a move in seconds.
const RAMP_SECONDS: f64 = 0.005;

/// Some values on their way to a target.
#[derive(Debug, Clone)]
pub struct Ramp<const N: usize> {
    now: [f64; N],
    step: [f64; N],
    target: [f64; N],
    left: u32,
}

impl<const N: usize> Ramp<N> {
    /// At rest.
    pub fn at(target: [f64; N]) -> Self {
        Ramp { now: target, step: [0.0; N], target, left: 0 }
    }

    /// Starts a move from where it is now. Calling it again with the same target changes nothing.
    pub fn go_to(&mut self, target: [f64; N], sample_rate: u32) {
        if target == self.target {
            return;
        }
        let frames = libm::round(RAMP_SECONDS * f64::from(sample_rate)).max(1.0);
        self.left = frames as u32;
        self.target = target;
        for (step, (to, now)) in self.step.iter_mut().zip(target.iter().zip(&self.now)) {
            *step = (to - now) / frames;
        }
    }

    /// Whether its next step changes it.
    #[inline]
    pub fn moves(&self) -> bool {
        self.left > 0
    }

    /// Where it is.
    pub fn now(&self) -> [f64; N] {
        self.now
    }

    /// Where it goes or stands.
    pub fn target(&self) -> [f64; N] {
        self.target
    }

    /// Whether it stands at a value and stays there.
    pub fn rests_at(&self, value: [f64; N]) -> bool {
        self.left == 0 && self.now == value
    }

    /// The values of the next frame.
    #[inline]
    pub fn step(&mut self) -> [f64; N] {
        if self.left > 0 {
            self.left -= 1;
            for (now, step) in self.now.iter_mut().zip(&self.step) {
                *now += step;
            }
            if self.left == 0 {
                self.now = self.target;
            }
        }
        self.now
    }

    /// Lets frames pass.
    pub fn pass(&mut self, frames: usize) {
        for _ in 0..frames.min(self.left as usize) {
            self.step();
        }
    }

    /// Computes `to` from `from` frame by frame with the values of each frame.
    #[inline]
    pub fn run(&mut self, from: &[Frame], to: &mut [Frame], apply: impl Fn([f64; N], Frame) -> Frame) {
        let moving = (self.left as usize).min(from.len());
        for (f, t) in from[..moving].iter().zip(&mut to[..moving]) {
            *t = apply(self.step(), *f);
        }
        let now = self.now;
        for (f, t) in from[moving..].iter().zip(&mut to[moving..]) {
            *t = apply(now, *f);
        }
    }

    /// The same on frames in place.
    #[inline]
    pub fn run_on(&mut self, frames: &mut [Frame], apply: impl Fn([f64; N], Frame) -> Frame) {
        let moving = (self.left as usize).min(frames.len());
        for frame in &mut frames[..moving] {
            *frame = apply(self.step(), *frame);
        }
        let now = self.now;
        for frame in &mut frames[moving..] {
            *frame = apply(now, *frame);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_move_takes_five_milliseconds_and_lands_exactly() {
        let mut ramp = Ramp::at([0.0]);
        ramp.go_to([0.7], 48_000);
        let mut out = [[0.0; 2]; 300];
        ramp.run(&[[1.0; 2]; 300], &mut out, |[g], [l, r]| [l * g, r * g]);
        assert_eq!(out[239], [0.7; 2]);
        assert!(ramp.rests_at([0.7]));
        let steepest = out.windows(2).map(|w| (w[1][0] - w[0][0]).abs()).fold(0.0, f64::max);
        assert!(steepest <= 0.7 / 240.0 + 1e-12);
    }
}
