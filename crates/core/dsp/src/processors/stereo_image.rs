//! Gain, polarity, a delay of whole samples, mono below a frequency, width.

use crate::kind::{Kind, Mix, Place, Unit};
use crate::parts::{MovingDelay, Ramp, Svf, options, settings};
use lane_units::{Frame, db_to_gain};

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
    /// The sides of a sound, and small things along its way. Its delay is meant, so nothing makes up for it.
    StereoImage {
        gain_db: "Gain", "dB", Even -100.0 to 24.0, 0.0;
        /// Whole samples; parts are cut off.
        delay_frames: "Delay", "samples", Even 0.0 to 9600.0, 0.0;
        /// The sides are filtered away under this, by 24 dB an octave; 0 is off.
        mono_below_hz: "Mono below", "Hz", Even 0.0 to 500.0, 0.0;
        /// 100 % is unchanged; the mono sum never changes.
        width_percent: "Width", "%", Even 0.0 to 200.0, 100.0;
    }
    choices {
        polarity: "Polarity", Polarities = Neither;
    }
}

impl Kind for StereoImage {
    const NAME: &'static str = "Stereo image";
    const MIX: Mix = Mix::Whole;
    type Course = Self;
    type Unit = State;

    fn course(&self, _place: Place) -> Self {
        self.clone()
    }

    fn widens(&self) -> bool {
        matches!(self.polarity, Polarities::Left | Polarities::Right)
    }

    fn tail(&self, place: Place) -> usize {
        // The slower step of the filter falls by e in Q / (pi f) seconds.
        let rings = |hz: f64| 11.52 * SIDE_Q[1] / (std::f64::consts::PI * hz) * f64::from(place.sample_rate);
        let filter = if self.mono_below_hz > 0.0 { rings(self.mono_below_hz.max(1.0)) } else { 0.0 };
        self.delay_frames as usize + filter as usize
    }

    fn gain_at_rest(&self) -> f64 {
        db_to_gain(self.gain_db) * if self.polarity == Polarities::Both { -1.0 } else { 1.0 }
    }
}

/// Length of the move from one delay to another in milliseconds.
const FADE_MS: f64 = 5.0;

/// Frames of delay that there is room for at least.
const ROOM: usize = 512;

/// A Butterworth filter of the fourth order in two steps: the quality of each.
const SIDE_Q: [f64; 2] = [0.541_196_100_146_197, 1.306_562_964_876_376_5];

/// A stereo image at work.
#[derive(Debug, Clone)]
pub struct State {
    /// Left, right, side.
    gains: Ramp<3>,
    sound: MovingDelay,
    side_filter: [Svf; 2],
    mono_below: f64,
}

fn targets(s: &StereoImage) -> [f64; 3] {
    let gain = db_to_gain(s.gain_db);
    let sign = |inverted: bool| if inverted { -gain } else { gain };
    [
        sign(matches!(s.polarity, Polarities::Left | Polarities::Both)),
        sign(matches!(s.polarity, Polarities::Right | Polarities::Both)),
        s.width_percent / 100.0,
    ]
}

impl Unit<StereoImage> for State {
    fn new(settings: &StereoImage, place: Place) -> Self {
        let sample_rate = place.sample_rate;
        let delay = settings.delay_frames as usize;
        let mut sound = MovingDelay::new(delay, FADE_MS, sample_rate);
        sound.make_room(delay.next_power_of_two().max(ROOM));
        State {
            gains: Ramp::at(targets(settings)),
            sound,
            side_filter: SIDE_Q.map(|q| Svf::with_q(settings.mono_below_hz.max(20.0), q, sample_rate)),
            mono_below: settings.mono_below_hz,
        }
    }

    fn fits(&self, s: &StereoImage, _place: Place) -> bool {
        self.sound.fits(s.delay_frames as usize)
    }

    fn inherit(&mut self, old: Self) {
        self.sound.take_over(&old.sound);
        for (step, old) in self.side_filter.iter_mut().zip(&old.side_filter) {
            step.take_over(old);
        }
    }

    fn set(&mut self, s: &StereoImage, Place { sample_rate, .. }: Place) {
        self.gains.go_to(targets(s), sample_rate);
        self.sound.go_to(s.delay_frames as usize);
        if s.mono_below_hz > 0.0 {
            for (step, q) in self.side_filter.iter_mut().zip(SIDE_Q) {
                step.tune(s.mono_below_hz, q, sample_rate);
            }
        }
        self.mono_below = s.mono_below_hz;
    }

    fn process(&mut self, frames: &mut [Frame], _key: Option<&[Frame]>) {
        for frame in frames {
            let mut x = self.sound.step(*frame);
            let [left, right, width] = self.gains.step();
            if width != 1.0 || self.mono_below > 0.0 {
                let (mid, mut side) = ((x[0] + x[1]) / 2.0, (x[0] - x[1]) / 2.0);
                if self.mono_below > 0.0 {
                    side = self.side_filter.iter_mut().fold(side, |side, step| step.step(0, side)[2]);
                }
                x = [mid + width * side, mid - width * side];
            }
            *frame = [x[0] * left, x[1] * right];
        }
    }

    fn feed(&mut self, frames: &[Frame], gain: f64) {
        if gain == 1.0 {
            return self.sound.push_all(frames);
        }
        frames.iter().for_each(|f| self.sound.push(f.map(|x| x * gain)));
    }

    fn rests(&self, _silent: usize) -> bool {
        !self.gains.moves() && self.sound.rests() && (self.mono_below <= 0.0 || self.side_filter.iter().all(Svf::rests))
    }

    fn reset(&mut self) {
        self.sound.reset();
        self.side_filter.iter_mut().for_each(Svf::reset);
    }
}
