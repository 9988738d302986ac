//! A transient shaper: the difference of a fast and a slow envelope, in dB, says where a hit begins and where it
//! rings. Both envelopes scale with the sound, so a soft hit is treated as a loud one is.

use crate::dsp::kind::{Kind, Place, Unit};
use crate::dsp::parts::{Ramp, past_weight, settings};
use crate::units::{Frame, all_db_to_gain, all_gain_to_db};

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

/// Rise of the fast envelope and fall of both on the way down to the beginning of the next hit.
const FAST_MS: f64 = 0.4;
const FALL_MS: f64 = 40.0;
/// A difference from here on counts in full.
const WHOLE_DB: f64 = 9.0;
/// Added to both envelopes, so that the last bits of a tail count for nothing; -120 dBFS.
const FLOOR: f64 = 1e-6;
/// Envelopes below this are silence.
const SILENCE: f64 = 1e-12;

/// Frames computed at a time at most.
const PIECE: usize = 64;

/// A transient shaper at work. Both sides move together.
#[derive(Debug, Clone)]
pub struct State {
    /// Weight of the past while the level is over an envelope, and while it is under.
    rise: [f64; 4],
    fall: [f64; 4],
    /// Fast, slow, short, long.
    envelopes: [f64; 4],
    /// Attack and sustain in dB.
    amounts: Ramp<2>,
    gain_db: f64,
    smooth: f64,
}

impl State {
    #[inline]
    fn follow(&mut self, level: f64) -> [f64; 4] {
        for ((now, rise), fall) in self.envelopes.iter_mut().zip(&self.rise).zip(&self.fall) {
            let past = if level > *now { rise } else { fall };
            let next = level + past * (*now - level);
            *now = if next < SILENCE { 0.0 } else { next };
        }
        self.envelopes
    }
}

impl Unit<Transient> for State {
    fn new(settings: &Transient, place: Place) -> Self {
        let mut state = State {
            rise: [0.0; 4],
            fall: [0.0; 4],
            envelopes: [0.0; 4],
            amounts: Ramp::at([settings.attack_db, settings.sustain_db]),
            gain_db: 0.0,
            smooth: past_weight(FAST_MS, place.sample_rate),
        };
        state.set(settings, place);
        state
    }

    fn set(&mut self, s: &Transient, Place { sample_rate, .. }: Place) {
        let weights = |ms: [f64; 4]| ms.map(|ms| past_weight(ms, sample_rate));
        self.rise = weights([FAST_MS, s.speed_ms, 0.0, 0.0]);
        self.fall = weights([FALL_MS, FALL_MS, s.ring_ms / 5.0, 2.0 * s.ring_ms]);
        self.amounts.go_to([s.attack_db, s.sustain_db], sample_rate);
    }

    fn process(&mut self, frames: &mut [Frame], _key: Option<&[Frame]>) {
        for piece in frames.chunks_mut(PIECE) {
            let count = piece.len();
            // How far one envelope is over another: fast over slow, then long over short.
            let mut over = [[0.0; PIECE]; 2];
            for (n, frame) in piece.iter().enumerate() {
                let [fast, slow, short, long] = self.follow(frame[0].abs().max(frame[1].abs()));
                over[0][n] = (fast + FLOOR) / (slow + FLOOR);
                over[1][n] = (long + FLOOR) / (short + FLOOR);
            }
            over.iter_mut().for_each(|over| all_gain_to_db(&mut over[..count]));
            let mut gains = [0.0; PIECE];
            let gains = &mut gains[..count];
            let part = |over_db: f64| (over_db / WHOLE_DB).clamp(0.0, 1.0);
            for (gain_db, (begins, rings)) in gains.iter_mut().zip(over[0].iter().zip(&over[1])) {
                let [attack, sustain] = self.amounts.step();
                let wanted = attack * part(*begins) + sustain * part(*rings);
                let next = wanted + self.smooth * (self.gain_db - wanted);
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
        !self.amounts.moves() && self.envelopes == [0.0; 4] && self.gain_db == 0.0
    }

    fn reset(&mut self) {
        (self.envelopes, self.gain_db) = ([0.0; 4], 0.0);
    }
}
