//! Gain, polarity, a delay of whole samples, mono below a frequency, width.

use super::param::{options, settings};
use super::{DelayLine, Ramp, Svf, frames_of};
use crate::units::{Frame, db_to_gain};

options! {
    /// Which sides are turned round.
    Polarities {
        Neither: "neither", "As it is";
        Left: "left", "Left inverted";
        Right: "right", "Right inverted";
        Both: "both", "Both inverted";
    }
}

settings! {
    /// Small things along the way. Its delay is meant, so nothing makes up for it.
    Utility {
        gain_db: "Gain", "dB", Even -100.0 to 24.0, 0.0;
        /// Whole samples; parts are cut off.
        delay_frames: "Delay", "samples", Even 0.0 to 9600.0, 0.0;
        /// The sides are filtered away under this; 0 is off.
        mono_below_hz: "Mono below", "Hz", Even 0.0 to 500.0, 0.0;
        /// 100 % is unchanged; the mono sum never changes.
        width_percent: "Width", "%", Even 0.0 to 200.0, 100.0;
    }
    choices {
        polarity: "Polarity", Polarities = Neither;
    }
}

/// Length of the move from one delay to another in milliseconds.
const FADE_MS: f64 = 5.0;

/// A utility at work.
#[derive(Debug, Clone)]
pub struct State {
    /// Left, right, side.
    gains: Ramp<3>,
    delay: usize,
    /// The delay before, and the frames left of the move away from it.
    before: (usize, u32),
    fade: u32,
    sound: DelayLine,
    side_filter: Svf,
    mono_below: f64,
}

fn targets(s: &Utility) -> [f64; 3] {
    let gain = db_to_gain(s.gain_db);
    let sign = |inverted: bool| if inverted { -gain } else { gain };
    [
        sign(matches!(s.polarity, Polarities::Left | Polarities::Both)),
        sign(matches!(s.polarity, Polarities::Right | Polarities::Both)),
        s.width_percent / 100.0,
    ]
}

impl State {
    pub fn new(settings: &Utility, sample_rate: u32) -> Self {
        let delay = settings.delay_frames as usize;
        State {
            gains: Ramp::at(targets(settings)),
            delay,
            before: (delay, 0),
            fade: frames_of(FADE_MS, sample_rate).max(1) as u32,
            sound: DelayLine::new(delay),
            side_filter: Svf::new(settings.mono_below_hz.max(20.0), sample_rate),
            mono_below: settings.mono_below_hz,
        }
    }

    pub fn set(&mut self, s: &Utility, sample_rate: u32) {
        self.gains.go_to(targets(s), sample_rate);
        let delay = s.delay_frames as usize;
        if delay != self.delay {
            self.sound.make_room(delay);
            self.before = (self.delay, self.fade);
            self.delay = delay;
        }
        if s.mono_below_hz > 0.0 {
            self.side_filter.tune(s.mono_below_hz, std::f64::consts::FRAC_1_SQRT_2, sample_rate);
        }
        self.mono_below = s.mono_below_hz;
    }

    pub fn process(&mut self, frames: &mut [Frame]) {
        for frame in frames {
            let mut x = self.sound.step(*frame, self.delay);
            if self.before.1 > 0 {
                self.before.1 -= 1;
                let old = self.sound.back(self.before.0);
                let rest = f64::from(self.before.1) / f64::from(self.fade);
                x = [x[0] + rest * (old[0] - x[0]), x[1] + rest * (old[1] - x[1])];
            }
            let [left, right, width] = self.gains.step();
            if width != 1.0 || self.mono_below > 0.0 {
                let (mid, mut side) = ((x[0] + x[1]) / 2.0, (x[0] - x[1]) / 2.0);
                if self.mono_below > 0.0 {
                    side = self.side_filter.step(0, side)[2];
                }
                x = [mid + width * side, mid - width * side];
            }
            *frame = [x[0] * left, x[1] * right];
        }
    }

    /// Remembers sound that is not processed.
    pub fn feed(&mut self, frame: Frame) {
        self.sound.step(frame, 0);
    }

    pub fn reset(&mut self) {
        self.sound.reset();
        self.side_filter.reset();
        self.before.1 = 0;
    }
}
