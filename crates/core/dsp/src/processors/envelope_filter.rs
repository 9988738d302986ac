//! A filter whose corner follows the level: the state-variable filter in its trapezoidal form, tuned frame by frame.

use crate::kind::{Kind, Mix, Place, Unit};
use crate::parts::{Ramp, Svf, TimeIn, options, past_weight, settings};
use lane_units::{Frame, db_to_gain, gain_to_db};

options! {
    /// What the filter lets through.
    Pass {
        Low: "low_pass", "Low-pass";
        Band: "band_pass", "Band-pass";
        High: "high_pass", "High-pass";
    }
}

settings! {
    /// A filter of 12 dB per octave whose corner moves with its own level, or with its key's.
    EnvelopeFilter {
        /// Corner at silence; kept under 0.49 of the session's rate.
        cutoff_hz: "Corner", "Hz", Ratio 20.0 to 20000.0, 800.0;
        q: "Resonance", "Q", Ratio 0.5 to 20.0, 0.71;
        /// How far the corner goes at full level.
        amount_oct: "Envelope", "oct", Even -8.0 to 8.0, 0.0;
        /// Peak level that counts as full.
        full_dbfs: "Full at", "dBFS", Even -60.0 to 0.0, -12.0;
        attack_ms: "Attack", "ms", Ratio 0.1 to 250.0, 2.0;
        release_ms: "Release", "ms", Ratio 5.0 to 2500.0, 150.0;
    }
    choices {
        pass: "Lets through", Pass = Low;
        attack_in: "Attack in", TimeIn = Milliseconds;
        release_in: "Release in", TimeIn = Milliseconds;
    }
}

impl Kind for EnvelopeFilter {
    const NAME: &'static str = "Envelope filter";
    const TAKES_KEY: bool = true;
    const SWEEPS: bool = true;
    const MIX: Mix = Mix::Whole;
    type Course = Self;
    type Unit = State;

    fn course(&self, place: Place) -> Self {
        EnvelopeFilter {
            attack_ms: self.attack_in.ms(self.attack_ms, (0.1, 250.0), place),
            release_ms: self.release_in.ms(self.release_ms, (5.0, 2500.0), place),
            ..self.clone()
        }
    }

    fn follows_tempo(&self) -> bool {
        self.attack_in.is_note() || self.release_in.is_note()
    }

    fn tail(&self, place: Place) -> usize {
        // The envelope of a resonance falls by e in Q / (pi f) seconds.
        let lowest = self.cutoff_hz * libm::exp2(self.amount_oct.min(0.0));
        (11.52 * self.q.max(1.0) / (std::f64::consts::PI * lowest.max(10.0)) * f64::from(place.sample_rate)) as usize
    }
}

impl EnvelopeFilter {
    /// Its gain in dB at some frequencies in Hz, with its envelope at a part of full.
    pub fn response_db(&self, freqs_hz: &[f64], envelope: f64, sample_rate: u32) -> Vec<f64> {
        let corner = libm::exp2(libm::log2(self.cutoff_hz) + self.amount_oct * envelope).max(LOWEST_HZ);
        let filter = Svf::with_q(corner, self.q, sample_rate);
        let at = |hz: &f64| {
            let [low, band, high] = filter.magnitudes(*hz, sample_rate);
            let heard = match self.pass {
                Pass::Low => low,
                Pass::Band => band / self.q,
                Pass::High => high,
            };
            gain_to_db(heard).max(-150.0)
        };
        freqs_hz.iter().map(at).collect()
    }
}

/// Envelopes below this are silence.
const SILENCE: f64 = 1e-12;
/// The corner never goes lower.
const LOWEST_HZ: f64 = 10.0;

/// A filter with envelope at work. Both sides move together.
#[derive(Debug, Clone)]
pub struct State {
    pass: Pass,
    /// Corner as a power of two in Hz, Q, and octaves of the envelope.
    course: Ramp<3>,
    full: f64,
    attack: f64,
    release: f64,
    released: f64,
    envelope: f64,
    filter: Svf,
    /// What the filter is tuned to.
    tuned: [f64; 2],
    /// The farthest that the corner went, in octaves.
    most_oct: f64,
    sample_rate: u32,
}

fn targets(s: &EnvelopeFilter) -> [f64; 3] {
    [libm::log2(s.cutoff_hz), s.q, s.amount_oct]
}

impl Unit<EnvelopeFilter> for State {
    fn new(s: &EnvelopeFilter, place: Place) -> Self {
        let sample_rate = place.sample_rate;
        let mut state = State {
            pass: s.pass,
            course: Ramp::at(targets(s)),
            full: 1.0,
            attack: 0.0,
            release: 0.0,
            released: 0.0,
            envelope: 0.0,
            filter: Svf::with_q(s.cutoff_hz, s.q, sample_rate),
            tuned: [s.cutoff_hz, s.q],
            most_oct: 0.0,
            sample_rate,
        };
        state.set(s, place);
        state
    }

    fn set(&mut self, s: &EnvelopeFilter, Place { sample_rate, .. }: Place) {
        self.pass = s.pass;
        self.course.go_to(targets(s), sample_rate);
        self.full = db_to_gain(s.full_dbfs);
        self.attack = past_weight(s.attack_ms, sample_rate);
        self.release = past_weight(s.release_ms, sample_rate);
    }

    fn process(&mut self, frames: &mut [Frame], key: Option<&[Frame]>) {
        for (n, frame) in frames.iter_mut().enumerate() {
            let [l, r] = key.map_or(*frame, |k| k[n]);
            let level = l.abs().max(r.abs());
            self.released = if level > self.released { level } else { level + self.release * (self.released - level) };
            self.envelope = self.released + self.attack * (self.envelope - self.released);
            if self.envelope < SILENCE && self.released < SILENCE {
                (self.envelope, self.released) = (0.0, 0.0);
            }
            let [corner, q, octaves] = self.course.step();
            let away = if octaves == 0.0 { 0.0 } else { octaves * (self.envelope / self.full).min(1.0) };
            self.most_oct = self.most_oct.max(away.abs());
            let hz = libm::exp2(corner + away).max(LOWEST_HZ);
            if [hz, q] != self.tuned {
                self.filter.tune(hz, q, self.sample_rate);
                self.tuned = [hz, q];
            }
            for (side, x) in frame.iter_mut().enumerate() {
                let [low, band, high] = self.filter.step(side, *x);
                *x = match self.pass {
                    Pass::Low => low,
                    Pass::Band => band / q,
                    Pass::High => high,
                };
            }
        }
    }

    fn take_reduction_db(&mut self) -> f64 {
        12.0 * std::mem::take(&mut self.most_oct)
    }

    fn rests(&self, _silent: usize) -> bool {
        !self.course.moves() && self.envelope == 0.0 && self.released == 0.0 && self.filter.rests()
    }

    fn reset(&mut self) {
        self.filter.reset();
        (self.envelope, self.released) = (0.0, 0.0);
    }
}
