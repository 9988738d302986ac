//! Saturation: a soft curve whose small signals keep their level.

use super::Ramp;
use super::param::settings;
use super::shaper::{Blend, LATENCY, Shaper};
use crate::units::{Frame, db_to_gain};

settings! {
    /// A soft saturation. Even at no drive it is filtered at four times the rate, which changes the passband by less
    /// than 0.01 dB.
    Saturation {
        /// Into the curve, and out of it again, so that soft parts stay as loud as they are.
        drive_db: "Drive", "dB", Even 0.0 to 36.0, 6.0;
        /// From a soft curve to straight clipping.
        hardness_percent: "Hardness", "%", Even 0.0 to 100.0, 0.0;
    }
    choices {}
}

impl Saturation {
    pub fn latency(&self) -> usize {
        LATENCY
    }
}

/// Saturation at work.
#[derive(Debug, Clone)]
pub struct State {
    /// Drive in dB and hardness.
    amounts: Ramp<2>,
    shaper: Shaper,
}

fn targets(s: &Saturation) -> [f64; 2] {
    [s.drive_db, s.hardness_percent / 100.0]
}

impl State {
    pub fn new(settings: &Saturation) -> Self {
        State { amounts: Ramp::at(targets(settings)), shaper: Shaper::new() }
    }

    pub fn set(&mut self, s: &Saturation, sample_rate: u32) {
        self.amounts.go_to(targets(s), sample_rate);
    }

    pub fn process(&mut self, frames: &mut [Frame]) {
        for frame in frames {
            let [drive_db, hardness] = self.amounts.step();
            let drive = db_to_gain(drive_db);
            *frame = self.shaper.step(*frame, drive, Blend(hardness)).map(|x| x / drive);
        }
    }

    pub fn feed(&mut self, frame: Frame) {
        let [drive_db, hardness] = self.amounts.target();
        self.shaper.step(frame, db_to_gain(drive_db), Blend(hardness));
    }

    pub fn reset(&mut self) {
        self.shaper.reset();
    }
}
