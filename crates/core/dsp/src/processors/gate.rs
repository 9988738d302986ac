//! A gate, or with a small ratio a downward expander: what is under the threshold gets quieter. The detector
//! is the compressor's, turned round (Giannoulis, Massberg and Reiss, JAES 60, 2012).

use crate::kind::{Kind, Place, Unit};
use crate::parts::TimeIn;
use crate::parts::{DelayLine, Detect, Detector, Ramp, frames_of, past_weight, settings};
use lane_units::{Frame, db_to_gain, gain_to_db};

/// A ratio from here on shuts whatever is under the threshold as far as the range lets it.
pub const WHOLE_RATIO: f64 = 100.0;
/// Reductions below this are none.
const SILENCE_DB: f64 = 1e-9;

settings! {
    /// A gate. Its level is its own input's or its key's.
    Gate {
        threshold_dbfs: "Threshold", "dBFS", Even -80.0 to 0.0, -36.0;
        /// How far under the threshold an open gate stays open.
        hysteresis_db: "Hysteresis", "dB", Even 0.0 to 24.0, 4.0;
        /// From 100 on a gate, below an expander.
        ratio: "Ratio", ":1", Ratio 1.0 to 100.0, 100.0;
        /// How much is taken away at most; 100 dB is silence.
        range_db: "Range", "dB", Even 0.0 to 100.0, 100.0;
        /// Time until an opening gate has 63 % of its way behind it.
        attack_ms: "Attack", "ms", Ratio 0.02 to 250.0, 0.5;
        hold_ms: "Hold", "ms", Even 0.0 to 1000.0, 30.0;
        /// Time until a closing gate has 63 % of its way behind it.
        release_ms: "Release", "ms", Ratio 1.0 to 2500.0, 80.0;
        /// How far ahead of the sound the level is known; as much latency.
        lookahead_ms: "Lookahead", "ms", Even 0.0 to 20.0, 0.0;
    }
    choices {
        detect: "Level by", Detect = Peak;
        attack_in: "Attack in", TimeIn = Milliseconds;
        hold_in: "Hold in", TimeIn = Milliseconds;
        release_in: "Release in", TimeIn = Milliseconds;
    }
}

impl Kind for Gate {
    const NAME: &'static str = "Gate";
    const TAKES_KEY: bool = true;
    const REDUCES: bool = true;
    type Course = Self;
    type Unit = State;

    fn course(&self, place: Place) -> Self {
        Gate {
            attack_ms: self.attack_in.ms(self.attack_ms, (0.02, 250.0), place),
            hold_ms: self.hold_in.ms(self.hold_ms, (0.0, 1000.0), place),
            release_ms: self.release_in.ms(self.release_ms, (1.0, 2500.0), place),
            ..self.clone()
        }
    }

    fn follows_tempo(&self) -> bool {
        [self.attack_in, self.hold_in, self.release_in].iter().any(|t| t.is_note())
    }

    fn latency(&self, sample_rate: u32) -> usize {
        frames_of(self.lookahead_ms, sample_rate)
    }
}

impl Gate {
    /// Reduction in dB that a steady level meets in a gate that was shut before.
    pub fn reduction_db(&self, level_dbfs: f64) -> f64 {
        reduction_db(level_dbfs, self.threshold_dbfs, self.ratio, self.range_db)
    }
}

fn reduction_db(level_dbfs: f64, threshold: f64, ratio: f64, range: f64) -> f64 {
    let under = threshold - level_dbfs;
    if under <= 0.0 {
        0.0
    } else if ratio >= WHOLE_RATIO {
        range
    } else {
        (under * (ratio - 1.0)).min(range)
    }
}

/// A gate at work. Both sides open together.
#[derive(Debug, Clone)]
pub struct State {
    attack: f64,
    release: f64,
    hold: u32,
    lookahead: usize,
    ratio: f64,
    hysteresis: f64,
    /// Threshold and range.
    bounds: Ramp<2>,
    detector: Detector,
    sound: DelayLine,
    open: bool,
    held: u32,
    reduction: f64,
    most_db: f64,
}

impl State {
    /// The reduction that follows from a level.
    #[inline]
    fn follow(&mut self, level: f64, [threshold, range]: [f64; 2]) {
        self.open = level >= threshold - if self.open { self.hysteresis } else { 0.0 };
        let wanted = if self.open { 0.0 } else { reduction_db(level, threshold, self.ratio, range) };
        if wanted <= self.reduction {
            self.held = self.hold;
            self.reduction = wanted + self.attack * (self.reduction - wanted);
        } else if self.held > 0 {
            self.held -= 1;
        } else {
            self.reduction = wanted + self.release * (self.reduction - wanted);
            // It arrives, so that it is where a gate begins that was always shut.
            if wanted - self.reduction < SILENCE_DB {
                self.reduction = wanted;
            }
        }
        if self.reduction < SILENCE_DB {
            self.reduction = 0.0;
        }
    }

    /// The reduction that silence leads to from here, with what decides it.
    fn after_silence(&self) -> (bool, u32, f64) {
        let [threshold, range] = self.bounds.target();
        let wanted = reduction_db(gain_to_db(0.0), threshold, self.ratio, range);
        let next = |weight: f64| wanted + weight * (self.reduction - wanted);
        let (held, reduction) = if wanted <= self.reduction {
            (self.hold, next(self.attack))
        } else if self.held > 0 {
            (self.held - 1, self.reduction)
        } else {
            let reduction = next(self.release);
            (0, if wanted - reduction < SILENCE_DB { wanted } else { reduction })
        };
        (false, held, if reduction < SILENCE_DB { 0.0 } else { reduction })
    }
}

impl Unit<Gate> for State {
    fn new(settings: &Gate, place: Place) -> Self {
        let sample_rate = place.sample_rate;
        let mut state = State {
            attack: 0.0,
            release: 0.0,
            hold: 0,
            lookahead: 0,
            ratio: settings.ratio,
            hysteresis: 0.0,
            bounds: Ramp::at([settings.threshold_dbfs, settings.range_db]),
            detector: Detector::new(settings.detect, sample_rate),
            sound: DelayLine::new(settings.latency(sample_rate)),
            open: false,
            held: 0,
            reduction: settings.range_db,
            most_db: 0.0,
        };
        state.set(settings, place);
        state
    }

    fn set(&mut self, s: &Gate, Place { sample_rate, .. }: Place) {
        self.attack = past_weight(s.attack_ms, sample_rate);
        self.release = past_weight(s.release_ms, sample_rate);
        self.hold = frames_of(s.hold_ms, sample_rate) as u32;
        self.lookahead = s.latency(sample_rate);
        self.ratio = s.ratio;
        self.hysteresis = s.hysteresis_db;
        self.bounds.go_to([s.threshold_dbfs, s.range_db], sample_rate);
        self.detector.set(s.detect);
    }

    fn inherit(&mut self, old: Self) {
        (self.open, self.held, self.reduction, self.detector) = (old.open, old.held, old.reduction, old.detector);
    }

    fn process(&mut self, frames: &mut [Frame], key: Option<&[Frame]>) {
        for n in 0..frames.len() {
            let [threshold, range] = self.bounds.step();
            let [l, r] = self.detector.step(key.map_or(frames[n], |k| k[n]));
            self.follow(gain_to_db(l.max(r)), [threshold, range]);
            self.most_db = if self.reduction > self.most_db { self.reduction } else { self.most_db };
            let gain = db_to_gain(-self.reduction);
            let sound = self.sound.step(frames[n], self.lookahead);
            frames[n] = [sound[0] * gain, sound[1] * gain];
        }
    }

    fn take_reduction_db(&mut self) -> f64 {
        let most = self.most_db;
        self.most_db = self.reduction.min(most);
        most
    }

    fn feed(&mut self, frames: &[Frame], gain: f64) {
        self.sound.push_at(frames, gain);
    }

    fn memory(&self) -> usize {
        self.lookahead
    }

    fn rests(&self, silent: usize) -> bool {
        silent > self.lookahead
            && !self.bounds.moves()
            && self.detector.rests()
            && self.after_silence() == (self.open, self.held, self.reduction)
    }

    fn reset(&mut self) {
        self.detector.reset();
        self.sound.reset();
        self.open = false;
        self.held = 0;
        self.reduction = self.bounds.target()[1];
        self.most_db = 0.0;
    }
}
