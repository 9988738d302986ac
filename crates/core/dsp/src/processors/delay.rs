//! A delay by note values or milliseconds, with filters in its loop.

use crate::kind::{Kind, Place, Unit};
use crate::parts::{KeyFilter, MovingDelay, Ramp, frames_of, note_quarters, options, settings};
use lane_units::Frame;
use serde::Serialize;

options! {
    /// What the delay is counted in.
    NoteValue {
        Eighth: "1/8", "1/8";
        EighthDotted: "1/8d", "1/8 dotted";
        EighthTriplet: "1/8t", "1/8 triplet";
        Quarter: "1/4", "1/4";
        QuarterDotted: "1/4d", "1/4 dotted";
        QuarterTriplet: "1/4t", "1/4 triplet";
        Half: "1/2", "1/2";
        Whole: "1/1", "1/1";
        Sixteenth: "1/16", "1/16";
        SixteenthDotted: "1/16d", "1/16 dotted";
        SixteenthTriplet: "1/16t", "1/16 triplet";
        ThirtySecond: "1/32", "1/32";
        Free: "free", "Milliseconds";
    }
}

options! {
    /// Where the echoes stand.
    Sides {
        Straight: "straight", "As they came";
        PingPong: "ping_pong", "Left, right, in turn";
    }
}

settings! {
    /// A delay. What comes out are the echoes; the sound itself is mixed in by the mix.
    Delay {
        /// Where it is not counted in notes.
        time_ms: "Time", "ms", Ratio 1.0 to 4000.0, 250.0;
        /// Level of each echo against the one before.
        feedback_percent: "Feedback", "%", Even 0.0 to 95.0, 30.0;
        /// Each echo loses what is under this; 0 is off.
        low_cut_hz: "Low cut", "Hz", Even 0.0 to 2000.0, 0.0;
        /// Each echo loses what is over this; 0 is off.
        high_cut_hz: "High cut", "Hz", Even 0.0 to 20000.0, 0.0;
    }
    choices {
        note: "Counted in", NoteValue = Eighth;
        sides: "Echoes", Sides = Straight;
    }
}

impl NoteValue {
    /// Length in quarter notes; none where it is not a note.
    pub fn quarters(self) -> Option<f64> {
        note_quarters(Self::OPTIONS[self as usize].0)
    }
}

impl Delay {
    /// The time between echoes in whole frames, to the nearest.
    pub fn frames(&self, place: Place) -> usize {
        let ms = self.note.quarters().map_or(self.time_ms, |q| q * 60_000.0 / place.tempo_bpm);
        frames_of(ms, place.sample_rate).max(1)
    }
}

/// One echo, for pictures.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[cfg_attr(feature = "describe", derive(ts_rs::TS))]
pub struct Echo {
    /// Behind the sound.
    pub at_s: f64,
    /// Against the sound, its filters left out.
    pub level_db: f64,
    /// Of both sides of a sound in the middle, which one it stands on: -1 left, 1 right, 0 both.
    pub side: i8,
}

/// Echoes listed at most, and the level under which none is, in dB.
const LISTED: usize = 64;
const LISTED_DB: f64 = -60.0;

impl Delay {
    /// Its echoes of a single hit until they have fallen by 60 dB.
    pub fn echoes(&self, place: Place) -> Vec<Echo> {
        let step_s = self.frames(place) as f64 / f64::from(place.sample_rate);
        let echo = |n: usize| {
            let level_db = n as f64 * lane_units::gain_to_db(self.feedback_percent / 100.0);
            let side = match self.sides {
                Sides::Straight => 0,
                Sides::PingPong => 2 * (n % 2) as i8 - 1,
            };
            Echo { at_s: (n + 1) as f64 * step_s, level_db: if n == 0 { 0.0 } else { level_db }, side }
        };
        (0..LISTED).map(echo).take_while(|e| e.level_db >= LISTED_DB).collect()
    }
}

/// A tail is never taken for longer than this, in seconds.
const LONGEST_S: usize = 120;

impl Kind for Delay {
    const NAME: &'static str = "Delay";
    type Course = Self;
    type Unit = State;

    fn course(&self, _place: Place) -> Self {
        self.clone()
    }

    fn follows_tempo(&self) -> bool {
        self.note.quarters().is_some()
    }

    fn widens(&self) -> bool {
        self.sides != Sides::Straight
    }

    fn tail(&self, place: Place) -> usize {
        // Echoes until they have fallen by 100 dB.
        let fall_db = -lane_units::gain_to_db(self.feedback_percent / 100.0);
        let echoes = 1.0 + if self.feedback_percent > 0.0 { (100.0 / fall_db).ceil() } else { 0.0 };
        let frames = echoes * self.frames(place) as f64 + 0.1 * f64::from(place.sample_rate);
        (frames as usize).min(LONGEST_S * place.sample_rate as usize)
    }
}

/// Length of the move from one time to another in milliseconds.
const FADE_MS: f64 = 20.0;
/// What is remembered at least, so that a longer time finds what sounded, in milliseconds: a whole note at 96 bpm.
const ROOM_MS: f64 = 2500.0;
/// Echoes below this are silence; about -300 dBFS.
const SILENCE: f64 = 1e-15;

/// A delay at work.
#[derive(Debug, Clone)]
pub struct State {
    line: MovingDelay,
    feedback: Ramp<1>,
    filter: KeyFilter,
    sides: Sides,
    /// How much of what comes in is remembered: all, but where it was switched off before, so that echoes do not
    /// begin within a wave.
    into: Ramp<1>,
    sample_rate: u32,
}

impl Unit<Delay> for State {
    fn new(s: &Delay, place: Place) -> Self {
        let mut line = MovingDelay::new(s.frames(place), FADE_MS, place.sample_rate);
        line.make_room(frames_of(ROOM_MS, place.sample_rate));
        State {
            line,
            feedback: Ramp::at([s.feedback_percent / 100.0]),
            filter: KeyFilter::new(s.low_cut_hz, s.high_cut_hz, place.sample_rate),
            sides: s.sides,
            into: Ramp::at([1.0]),
            sample_rate: place.sample_rate,
        }
    }

    fn fits(&self, s: &Delay, place: Place) -> bool {
        self.line.fits(s.frames(place))
    }

    fn inherit(&mut self, old: Self) {
        self.line.take_over(&old.line);
        (self.into, self.filter) = (old.into, old.filter);
    }

    fn set(&mut self, s: &Delay, place: Place) {
        self.line.go_to(s.frames(place));
        self.feedback.go_to([s.feedback_percent / 100.0], place.sample_rate);
        self.filter.tune(s.low_cut_hz, s.high_cut_hz);
        self.sides = s.sides;
    }

    fn process(&mut self, frames: &mut [Frame], _key: Option<&[Frame]>) {
        for frame in frames {
            let [into] = self.into.step();
            let [in_l, in_r] = frame.map(|x| x * into);
            let [feedback] = self.feedback.step();
            // What is due now went in before this frame.
            let [l, r] = self.filter.step(self.line.read_ahead(1));
            let back = match self.sides {
                Sides::Straight => [in_l + feedback * l, in_r + feedback * r],
                Sides::PingPong => [(in_l + in_r) / 2.0 + feedback * r, feedback * l],
            };
            self.line.push(back.map(|x| if x.abs() < SILENCE { 0.0 } else { x }));
            *frame = [l, r];
        }
    }

    fn feed(&mut self, frames: &[Frame], gain: f64) {
        // Switched on, it repeats what sounded before, whole.
        if gain == 1.0 && self.into.rests_at([1.0]) {
            return self.line.push_all(frames);
        }
        for frame in frames {
            let [into] = self.into.step();
            self.line.push(frame.map(|x| x * gain * into));
        }
    }

    fn rests(&self, _silent: usize) -> bool {
        self.line.rests() && self.filter.rests() && !self.feedback.moves() && !self.into.moves()
    }

    fn reset(&mut self) {
        self.line.reset();
        self.filter.reset();
        self.into = Ramp::at([1.0]);
    }

    fn fall_idle(&mut self) {
        self.reset();
        self.into = Ramp::at([0.0]);
        self.into.go_to([1.0], self.sample_rate);
    }
}
