//! A transient shaper: the difference of a fast and a slow envelope, in dB, says where a hit begins and where it
//! rings. Both envelopes scale with the sound, so a soft hit is treated as a loud one is.

use crate::kind::{Kind, Place, Unit};
use crate::parts::{Ramp, past_weight, settings};
use lane_units::{Frame, all_db_to_gain, all_gain_to_db};

settings! {
    /// A transient shaper.
    Transient {
        /// What the beginning of a hit gains.
        attack_db: "Attack", "dB", Even -18.0 to 18.0, 0.0;
        /// What its ringing gains.
        sustain_db: "Sustain", "dB", Even -24.0 to 24.0, 0.0;
        /// How long a beginning counts as one.
        speed_ms: "Speed", "ms", Ratio 2.0 to 80.0, 15.0;
        /// How long a hit rings that counts as short.
        ring_ms: "Ring", "ms", Ratio 20.0 to 1000.0, 150.0;
    }
    choices {}
}

impl Kind for Transient {
    const NAME: &'static str = "Transient shaper";
    type Course = Self;
    type Unit = State;

    fn course(&self, _place: Place) -> Self {
        self.clone()
    }
}

/// Rise of the fast envelope; fall of it and of the slow one.
const FAST_MS: f64 = 0.4;
const FALL_MS: f64 = 40.0;
/// The fast envelope of a steady tone stands over its slow one by less than this.
const RIPPLE_DB: f64 = 1.5;
/// A difference from here on counts in full.
const WHOLE_DB: f64 = 9.0;
/// Added to envelopes that are compared, so that the last bits of a tail count for nothing; -120 dBFS.
const FLOOR: f64 = 1e-6;
/// Envelopes below this are silence.
const SILENCE: f64 = 1e-12;
/// How slowly the level of the last hit is forgotten while something sounds.
const FORGET_MS: f64 = 1000.0;
/// Under the level of its hit a tail is let go of between these, -30 and -36 dB: what comes out of it is a new hit, and
/// begins as the first one did.
const TAIL: f64 = 0.031_622_776_601_683_79;
const OVER: f64 = 0.015_848_931_924_611_134;

/// Frames computed at a time at most.
const PIECE: usize = 64;

/// A transient shaper at work. Both sides move together.
#[derive(Debug, Clone)]
pub struct State {
    /// Weights of the past: of the fast envelope on its way up, of it and the slow one on their way down, of the slow one
    /// on its way up, of short, long and the level of the hit on their way down.
    fast: f64,
    fall: f64,
    slow: f64,
    short: f64,
    long: f64,
    forget: f64,
    heard: Envelopes,
    /// Attack and sustain in dB.
    amounts: Ramp<2>,
    gain_db: f64,
}

/// What is remembered of the sound, linear.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Envelopes {
    fast: f64,
    slow: f64,
    short: f64,
    long: f64,
    /// The level of the last hit.
    hit: f64,
    /// Between hits: the tail is over, and the next sound is a beginning.
    between: bool,
}

const SILENT: Envelopes = Envelopes { fast: 0.0, slow: 0.0, short: 0.0, long: 0.0, hit: 0.0, between: true };

impl State {
    /// Follows the level of a frame; gives how far fast is over slow, long over short, and how much of either counts.
    #[inline]
    fn follow(&mut self, level: f64) -> [f64; 3] {
        let Envelopes { fast, slow, short, long, hit, between } = &mut self.heard;
        *hit = level.max(*hit * self.forget);
        // Falling towards nothing, not towards what comes, peaks alone count: a tone between its peaks is no tail.
        *fast = if level > *fast { level + self.fast * (*fast - level) } else { level.max(*fast * self.fall) };
        *short = level.max(level + self.short * (*short - level));
        *long = level.max(level + self.long * (*long - level));
        *slow = if *fast > *slow { *fast + self.slow * (*slow - *fast) } else { fast.max(*slow * self.fall) };
        // A beginning is heard at its first frame.
        let now = level.max(*fast);
        *between = if *between { now <= TAIL * *hit } else { now < OVER * *hit };
        if *fast < SILENCE {
            self.heard = SILENT;
            return [1.0, 1.0, 0.0];
        }
        if *between {
            (*slow, *short, *long) = (0.0, *fast, *fast);
            return [1.0, 1.0, 0.0];
        }
        let counts = ((now / *hit - OVER) / (TAIL - OVER)).clamp(0.0, 1.0);
        [(*fast + FLOOR) / (*slow + FLOOR), (*long + FLOOR) / (*short + FLOOR), counts]
    }
}

impl Unit<Transient> for State {
    fn new(settings: &Transient, place: Place) -> Self {
        let mut state = State {
            fast: past_weight(FAST_MS, place.sample_rate),
            fall: past_weight(FALL_MS, place.sample_rate),
            slow: 0.0,
            short: 0.0,
            long: 0.0,
            forget: past_weight(FORGET_MS, place.sample_rate),
            heard: SILENT,
            amounts: Ramp::at([settings.attack_db, settings.sustain_db]),
            gain_db: 0.0,
        };
        state.set(settings, place);
        state
    }

    fn set(&mut self, s: &Transient, Place { sample_rate, .. }: Place) {
        self.slow = past_weight(s.speed_ms, sample_rate);
        self.short = past_weight(s.ring_ms / 5.0, sample_rate);
        self.long = past_weight(2.0 * s.ring_ms, sample_rate);
        self.amounts.go_to([s.attack_db, s.sustain_db], sample_rate);
    }

    fn process(&mut self, frames: &mut [Frame], _key: Option<&[Frame]>) {
        for piece in frames.chunks_mut(PIECE) {
            let count = piece.len();
            // How far one envelope is over another: fast over slow, long over short.
            let mut over = [[0.0; PIECE]; 2];
            let mut counts = [0.0; PIECE];
            // The weight of the gain before: none where a hit begins, so that all begin with the same.
            let mut before = [self.fast; PIECE];
            for (n, frame) in piece.iter().enumerate() {
                let between = self.heard.between;
                [over[0][n], over[1][n], counts[n]] = self.follow(frame[0].abs().max(frame[1].abs()));
                if between && !self.heard.between {
                    before[n] = 0.0;
                }
            }
            over.iter_mut().for_each(|over| all_gain_to_db(&mut over[..count]));
            let mut gains = [0.0; PIECE];
            let gains = &mut gains[..count];
            let part = |over_db: f64| (over_db / WHOLE_DB).clamp(0.0, 1.0);
            let begins = |over_db: f64| part(over_db - RIPPLE_DB);
            for (n, gain_db) in gains.iter_mut().enumerate() {
                let [attack, sustain] = self.amounts.step();
                let wanted = counts[n] * (attack * begins(over[0][n]) + sustain * part(over[1][n]));
                let next = wanted + before[n] * (self.gain_db - wanted);
                self.gain_db = if next.abs() < 1e-9 { 0.0 } else { next };
                *gain_db = self.gain_db;
            }
            all_db_to_gain(gains);
            for (frame, gain) in piece.iter_mut().zip(gains) {
                *frame = frame.map(|x| x * *gain);
            }
        }
    }

    fn rests(&self, _silent: usize) -> bool {
        !self.amounts.moves() && self.heard == SILENT && self.gain_db == 0.0
    }

    fn reset(&mut self) {
        (self.heard, self.gain_db) = (SILENT, 0.0);
    }
}
