//! A reverb: a feedback delay network whose decay depends on frequency (Jot and Chaigne, Digital Delay Networks for
//! Designing Artificial Reverberators, AES 1991), behind a predelay and diffusers.

pub use super::tank::Space;
use super::tank::{Decay, Tank};
use crate::kind::{Kind, Place, Unit};
use crate::parts::{KeyFilter, MovingDelay, frames_of, settings};
use lane_units::Frame;

settings! {
    /// A reverb. What comes out is the reverb alone; the sound itself is mixed in by the mix.
    Reverb {
        /// Time in which it falls by 60 dB in the middle.
        decay_s: "Decay", "s", Ratio 0.1 to 20.0, 1.2;
        /// The lows' decay against the middle's.
        low_percent: "Low decay", "%", Ratio 20.0 to 200.0, 100.0;
        /// The highs' decay against the middle's.
        high_percent: "High decay", "%", Ratio 10.0 to 100.0, 50.0;
        /// Where the lows give way to the middle.
        low_hz: "Lows under", "Hz", Ratio 60.0 to 1000.0, 250.0;
        /// Where the middle gives way to the highs.
        high_hz: "Highs over", "Hz", Ratio 1000.0 to 12000.0, 4000.0;
        /// Length of its ways; a short decay shortens them.
        size_percent: "Size", "%", Ratio 50.0 to 200.0, 100.0;
        predelay_ms: "Predelay", "ms", Even 0.0 to 250.0, 0.0;
        /// What goes in loses what is under this; 0 is off.
        low_cut_hz: "Low cut", "Hz", Even 0.0 to 2000.0, 0.0;
        /// What goes in loses what is over this; 0 is off.
        high_cut_hz: "High cut", "Hz", Even 0.0 to 20000.0, 0.0;
    }
    choices {
        space: "Space", Space = Room;
    }
}

impl Reverb {
    fn decay(&self) -> Decay {
        Decay {
            middle_s: self.decay_s,
            low_s: self.decay_s * self.low_percent / 100.0,
            high_s: self.decay_s * self.high_percent / 100.0,
            low_hz: self.low_hz,
            high_hz: self.high_hz,
        }
    }

    /// The time of 60 dB in seconds at some frequencies in Hz, as its own filters make it.
    pub fn decay_s(&self, freqs_hz: &[f64], sample_rate: u32) -> Vec<f64> {
        self.decay().at(freqs_hz, sample_rate)
    }
}

/// A tail is never taken for longer than this, in seconds.
const LONGEST_S: f64 = 60.0;

impl Kind for Reverb {
    const NAME: &'static str = "Reverb";
    type Course = Self;
    type Unit = State;

    fn course(&self, _place: Place) -> Self {
        self.clone()
    }

    fn widens(&self) -> bool {
        true
    }

    fn tail(&self, place: Place) -> usize {
        let longest = self.decay_s * (self.low_percent / 100.0).max(1.0);
        let seconds = longest * 100.0 / 60.0 + self.predelay_ms / 1000.0 + 0.2;
        (seconds.min(LONGEST_S) * f64::from(place.sample_rate)) as usize
    }
}

/// Length of the moves from one predelay, and from one space, to another in milliseconds.
const FADE_MS: f64 = 20.0;

/// Predelay that there is room for.
const MOST_PREDELAY_MS: f64 = 250.0;

/// A reverb at work. Another space or size fades in; another decay goes on with what sounds.
#[derive(Debug, Clone)]
pub struct State {
    predelay: MovingDelay,
    filter: KeyFilter,
    now: Tank,
    /// The one that fades out, and the frames that are left of it.
    before: Option<Tank>,
    left: u32,
    fade: u32,
}

impl Unit<Reverb> for State {
    fn new(s: &Reverb, Place { sample_rate, .. }: Place) -> Self {
        let mut predelay = MovingDelay::new(frames_of(s.predelay_ms, sample_rate), FADE_MS, sample_rate);
        predelay.make_room(frames_of(MOST_PREDELAY_MS, sample_rate));
        State {
            predelay,
            filter: KeyFilter::new(s.low_cut_hz, s.high_cut_hz, sample_rate),
            now: Tank::new(s.space, s.size_percent / 100.0, &s.decay(), sample_rate),
            before: None,
            left: 0,
            fade: frames_of(FADE_MS, sample_rate).max(1) as u32,
        }
    }

    fn fits(&self, s: &Reverb, _place: Place) -> bool {
        self.now.fits(s.space, s.size_percent / 100.0, &s.decay())
    }

    fn inherit(&mut self, old: Self) {
        self.predelay.take_over(&old.predelay);
        self.filter = old.filter;
        // A move on its way goes on from the louder of the two.
        self.before = Some(match old.before {
            Some(before) if old.left >= old.fade / 2 => before,
            _ => old.now,
        });
        self.left = self.fade;
    }

    fn set(&mut self, s: &Reverb, Place { sample_rate, .. }: Place) {
        self.predelay.go_to(frames_of(s.predelay_ms, sample_rate));
        self.filter.tune(s.low_cut_hz, s.high_cut_hz);
        self.now.set(&s.decay());
    }

    fn process(&mut self, frames: &mut [Frame], _key: Option<&[Frame]>) {
        for frame in frames {
            let sound = self.filter.step(self.predelay.step(*frame));
            *frame = self.now.step(sound);
            if self.left > 0
                && let Some(before) = &mut self.before
            {
                self.left -= 1;
                let old = before.step(sound);
                let rest = f64::from(self.left) / f64::from(self.fade);
                for side in 0..2 {
                    frame[side] += rest * (old[side] - frame[side]);
                }
            }
        }
    }

    fn rests(&self, _silent: usize) -> bool {
        self.left == 0 && self.predelay.rests() && self.filter.rests() && self.now.rests()
    }

    fn reset(&mut self) {
        self.predelay.reset();
        self.filter.reset();
        self.now.reset();
        self.left = 0;
    }
}
