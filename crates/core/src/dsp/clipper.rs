//! A clipper: a curve that nothing goes over, hard, soft, or both blended.

use super::Ramp;
use super::param::settings;
use super::shaper::{Blend, LATENCY, Shaper};
use crate::units::{Frame, db_to_gain};

settings! {
    /// A clipper. The curve itself keeps the ceiling; the filter behind it, without which the sharp corners would fold
    /// back, can lift single samples over it again, by less than 1.2 dB. Holding these too would fold back.
    Clipper {
        ceiling_dbfs: "Ceiling", "dBFS", Even -36.0 to 0.0, -6.0;
        /// From a soft curve, which bends early, to straight clipping.
        hardness_percent: "Hardness", "%", Even 0.0 to 100.0, 100.0;
    }
    choices {}
}

impl Clipper {
    pub fn latency(&self) -> usize {
        LATENCY
    }
}

/// A clipper at work.
#[derive(Debug, Clone)]
pub struct State {
    /// Ceiling in dBFS and hardness.
    amounts: Ramp<2>,
    shaper: Shaper,
}

fn targets(s: &Clipper) -> [f64; 2] {
    [s.ceiling_dbfs, s.hardness_percent / 100.0]
}

impl State {
    pub fn new(settings: &Clipper) -> Self {
        State { amounts: Ramp::at(targets(settings)), shaper: Shaper::new() }
    }

    pub fn set(&mut self, s: &Clipper, sample_rate: u32) {
        self.amounts.go_to(targets(s), sample_rate);
    }

    pub fn process(&mut self, frames: &mut [Frame]) {
        for frame in frames {
            let [ceiling_dbfs, hardness] = self.amounts.step();
            let ceiling = db_to_gain(ceiling_dbfs);
            *frame = self.shaper.step(*frame, 1.0 / ceiling, Blend(hardness)).map(|x| x * ceiling);
        }
    }

    pub fn feed(&mut self, frame: Frame) {
        let [ceiling_dbfs, hardness] = self.amounts.target();
        self.shaper.step(frame, 1.0 / db_to_gain(ceiling_dbfs), Blend(hardness));
    }

    pub fn reset(&mut self) {
        self.shaper.reset();
    }
}
