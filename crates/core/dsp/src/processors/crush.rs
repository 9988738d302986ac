//! Bit and rate reduction: a quantiser, and a sample that is held.

use crate::kind::{Kind, Moment, Place, Unit};
use crate::parts::{Ramp, settings};
use lane_units::Frame;

settings! {
    /// Bit and rate reduction, coarse on purpose: what it folds back is its sound.
    Crush {
        /// Whole steps on each side of silence: 2 to the power of one less; parts of a bit lie between.
        bits: "Bits", "bit", Even 1.0 to 24.0, 24.0;
        /// Rate of the held sample, in parts of the session's.
        rate_percent: "Rate", "%", Ratio 1.0 to 100.0, 100.0;
    }
    choices {}
}

impl Kind for Crush {
    const NAME: &'static str = "Bit and rate reduction";
    type Course = Self;
    type Unit = State;

    fn course(&self, _place: Place) -> Self {
        self.clone()
    }
}

/// At this many bits nothing is rounded.
const ALL_BITS: f64 = 24.0;

/// Bit and rate reduction at work.
#[derive(Debug, Clone)]
pub struct State {
    bits: f64,
    /// Parts of a held sample that pass in one frame.
    rate: Ramp<1>,
    phase: f64,
    held: Frame,
}

impl Unit<Crush> for State {
    fn new(settings: &Crush, _place: Place) -> Self {
        State { bits: settings.bits, rate: Ramp::at([settings.rate_percent / 100.0]), phase: 1.0, held: [0.0; 2] }
    }

    fn set(&mut self, s: &Crush, Place { sample_rate, .. }: Place) {
        self.bits = s.bits;
        self.rate.go_to([s.rate_percent / 100.0], sample_rate);
    }

    fn process(&mut self, frames: &mut [Frame], _key: Option<&[Frame]>) {
        let steps = libm::exp2(self.bits - 1.0);
        for frame in frames {
            let [rate] = self.rate.step();
            if self.phase >= 1.0 {
                self.phase -= 1.0;
                let rounded = |x: f64| if self.bits >= ALL_BITS { x } else { libm::round(x * steps) / steps };
                self.held = [rounded(frame[0]), rounded(frame[1])];
            }
            self.phase += rate;
            *frame = self.held;
        }
    }

    fn rests(&self, _silent: usize) -> bool {
        !self.rate.moves() && self.held == [0.0; 2]
    }

    fn pass(&mut self, frames: usize, _now: &Moment) {
        // At the whole rate every frame begins anew.
        let [rate] = self.rate.target();
        for _ in 0..if rate < 1.0 { frames } else { 0 } {
            if self.phase >= 1.0 {
                self.phase -= 1.0;
            }
            self.phase += rate;
        }
    }

    fn reset(&mut self) {
        self.phase = 1.0;
        self.held = [0.0; 2];
    }
}
