//! A transient shaper: the difference of a fast and a slow envelope, in dB, says where a hit begins and where it
//! rings. Both envelopes scale with the sound, so a soft hit is treated as a loud one is.

use super::param::settings;
use super::{Kind, Place, Ramp, Unit, past_weight};
use crate::units::{Frame, db_to_gain, gain_to_db};

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
    type Unit = State;
}

/// Rise of the fast envelope and fall of both on the way down to the beginning of the next hit.
const FAST_MS: f64 = 0.4;
const FALL_MS: f64 = 40.0;
/// A difference from here on counts in full.
const WHOLE_DB: f64 = 9.0;
/// Added to both envelopes, so that the last bits of a tail count for nothing; -120 dBFS.
const FLOOR: f64 = 1e-6;
/// Envelopes below this are silence.
const SILENCE: f64 = 1e-12;

/// A transient shaper at work. Both sides move together.
#[derive(Debug, Clone)]
pub struct State {
    fast_rise: f64,
    slow_rise: f64,
    fall: f64,
    short_fall: f64,
    long_fall: f64,
    /// Attack and sustain in dB.
    amounts: Ramp<2>,
    fast: f64,
    slow: f64,
    short: f64,
    long: f64,
    gain_db: f64,
    smooth: f64,
}

fn toward(now: f64, level: f64, rise: f64, fall: f64) -> f64 {
    let past = if level > now { rise } else { fall };
    let next = level + past * (now - level);
    if next < SILENCE { 0.0 } else { next }
}

/// The part of an amount that the difference of two envelopes asks for.
#[inline]
fn part(amount_db: f64, over: f64, under: f64) -> f64 {
    if amount_db == 0.0 || over <= under {
        return 0.0;
    }
    amount_db * (gain_to_db((over + FLOOR) / (under + FLOOR)) / WHOLE_DB).min(1.0)
}

impl Unit<Transient> for State {
    fn new(settings: &Transient, place: Place) -> Self {
        let sample_rate = place.sample_rate;
        let mut state = State {
            fast_rise: 0.0,
            slow_rise: 0.0,
            fall: past_weight(FALL_MS, sample_rate),
            short_fall: 0.0,
            long_fall: 0.0,
            amounts: Ramp::at([settings.attack_db, settings.sustain_db]),
            fast: 0.0,
            slow: 0.0,
            short: 0.0,
            long: 0.0,
            gain_db: 0.0,
            smooth: past_weight(FAST_MS, sample_rate),
        };
        state.set(settings, place);
        state
    }

    fn set(&mut self, s: &Transient, Place { sample_rate, .. }: Place) {
        self.fast_rise = past_weight(FAST_MS, sample_rate);
        self.slow_rise = past_weight(s.speed_ms, sample_rate);
        self.short_fall = past_weight(s.ring_ms / 5.0, sample_rate);
        self.long_fall = past_weight(2.0 * s.ring_ms, sample_rate);
        self.amounts.go_to([s.attack_db, s.sustain_db], sample_rate);
    }

    fn process(&mut self, frames: &mut [Frame], _key: Option<&[Frame]>) {
        for frame in frames {
            let level = frame[0].abs().max(frame[1].abs());
            self.fast = toward(self.fast, level, self.fast_rise, self.fall);
            self.slow = toward(self.slow, level, self.slow_rise, self.fall);
            self.short = toward(self.short, level, 0.0, self.short_fall);
            self.long = toward(self.long, level, 0.0, self.long_fall);
            let [attack, sustain] = self.amounts.step();
            if attack == 0.0 && sustain == 0.0 && self.gain_db == 0.0 {
                continue;
            }
            let wanted = part(attack, self.fast, self.slow) + part(sustain, self.long, self.short);
            self.gain_db = wanted + self.smooth * (self.gain_db - wanted);
            if self.gain_db.abs() < 1e-9 {
                self.gain_db = 0.0;
                continue;
            }
            let gain = db_to_gain(self.gain_db);
            *frame = [frame[0] * gain, frame[1] * gain];
        }
    }

    fn reset(&mut self) {
        (self.fast, self.slow, self.short, self.long, self.gain_db) = (0.0, 0.0, 0.0, 0.0, 0.0);
    }
}
