//! A limiter that holds the true peak: the level between samples is read at eight times the rate, and the gain is there
//! before the peak is. The gain is a minimum over the lookahead, let go slowly and
//! then averaged over the same length, so that it never is over what the peak needs.

use crate::kind::{Kind, Moment, Place, Unit};
use crate::parts::between::{Between, HALF, PIECE};
use crate::parts::{DelayLine, frames_of, past_weight, settings};
use lane_units::{Frame, db_to_gain, gain_to_db};

settings! {
    /// A limiter. Under its ceiling it is transparent but for its latency.
    Limiter {
        ceiling_dbtp: "Ceiling", "dBTP", Even -36.0 to 0.0, -1.0;
        /// Time until 63 % of the reduction are let go.
        release_ms: "Release", "ms", Ratio 1.0 to 2500.0, 80.0;
        /// How far ahead of the sound the level is known; latency.
        lookahead_ms: "Lookahead", "ms", Even 1.0 to 20.0, 2.0;
    }
    choices {}
}

impl Limiter {
    /// Frames over which the gain is looked for and averaged.
    fn window(&self, sample_rate: u32) -> usize {
        frames_of(self.lookahead_ms, sample_rate).max(2)
    }
}

impl Kind for Limiter {
    const NAME: &'static str = "Limiter";
    const REDUCES: bool = true;
    type Course = Self;
    type Unit = State;

    fn course(&self, _place: Place) -> Self {
        self.clone()
    }

    fn latency(&self, sample_rate: u32) -> usize {
        self.window(sample_rate) + HALF
    }
}

/// So far under the ceiling is aimed: meters with short filters read the top octave too high by as much.
const MARGIN_DB: f64 = 0.15;

impl Limiter {
    /// The level in dBFS at which a steady level comes out.
    pub fn steady_db(&self, level_dbfs: f64) -> f64 {
        level_dbfs.min(self.ceiling_dbtp - MARGIN_DB)
    }
}

/// The least of the newest values: those that can still become the least wait in rising order.
#[derive(Debug, Clone)]
struct SlidingLeast {
    waiting: Vec<(u64, f64)>,
    first: usize,
    count: usize,
    now: u64,
}

impl SlidingLeast {
    fn new(room: usize) -> Self {
        SlidingLeast { waiting: vec![(0, 1.0); room + 1], first: 0, count: 0, now: 0 }
    }

    #[inline]
    fn step(&mut self, value: f64, length: usize) -> f64 {
        let room = self.waiting.len();
        while self.count > 0 && self.waiting[(self.first + self.count - 1) % room].1 >= value {
            self.count -= 1;
        }
        self.waiting[(self.first + self.count) % room] = (self.now, value);
        self.count += 1;
        while self.waiting[self.first].0 + (length as u64) <= self.now {
            self.first = (self.first + 1) % room;
            self.count -= 1;
        }
        self.now += 1;
        self.waiting[self.first].1
    }
}

/// A limiter at work. Both sides move together.
#[derive(Debug, Clone)]
pub struct State {
    between: Between,
    ceiling: f64,
    release: f64,
    window: usize,
    least: SlidingLeast,
    released: f64,
    /// The gains to average, and their sum.
    gains: Vec<f64>,
    gains_at: usize,
    sum: f64,
    sound: DelayLine,
    latency: usize,
    lowest: f64,
}

impl State {
    /// The gain of the frame that is due when a peak is read.
    #[inline]
    fn gain(&mut self, peak: f64) -> f64 {
        let needed = if peak > self.ceiling { self.ceiling / peak } else { 1.0 };
        let least = self.least.step(needed, self.window + 2);
        self.released = if least < self.released { least } else { least + self.release * (self.released - least) };
        // So close to nothing that it is nothing; else it would never be let go.
        if self.released > 1.0 - 1e-9 {
            self.released = 1.0;
        }
        self.sum += self.released - self.gains[self.gains_at];
        self.gains[self.gains_at] = self.released;
        self.gains_at += 1;
        if self.gains_at == self.window {
            self.gains_at = 0;
            // Added up anew once a round, so that roundings do not gather.
            self.sum = self.gains.iter().sum();
        }
        let gain = if self.sum == self.window as f64 { 1.0 } else { self.sum / self.window as f64 };
        self.lowest = self.lowest.min(gain);
        gain
    }
}

impl Unit<Limiter> for State {
    fn new(s: &Limiter, place: Place) -> Self {
        let window = s.window(place.sample_rate);
        let mut state = State {
            between: Between::default(),
            ceiling: 1.0,
            release: 0.0,
            window,
            least: SlidingLeast::new(window + 2),
            released: 1.0,
            gains: vec![1.0; window],
            gains_at: 0,
            sum: window as f64,
            sound: DelayLine::new(s.latency(place.sample_rate) + PIECE),
            latency: 0,
            lowest: 1.0,
        };
        state.set(s, place);
        state
    }

    fn set(&mut self, s: &Limiter, Place { sample_rate, .. }: Place) {
        self.ceiling = db_to_gain(s.ceiling_dbtp - MARGIN_DB);
        self.release = past_weight(s.release_ms, sample_rate);
        self.latency = s.latency(sample_rate);
    }

    fn inherit(&mut self, old: Self) {
        (self.between, self.released) = (old.between, old.released);
        self.gains.fill(self.released);
        self.sum = self.released * self.window as f64;
    }

    fn process(&mut self, frames: &mut [Frame], _key: Option<&[Frame]>) {
        for piece in frames.chunks_mut(PIECE) {
            let mut peaks = [0.0; PIECE];
            let peaks = &mut peaks[..piece.len()];
            self.between.take(piece);
            self.between.peaks(peaks);
            self.sound.run(piece, self.latency);
            for (frame, peak) in piece.iter_mut().zip(peaks) {
                let gain = self.gain(f64::from(*peak));
                *frame = frame.map(|x| x * gain);
            }
        }
    }

    fn feed(&mut self, frames: &[Frame], gain: f64) {
        self.sound.push_at(frames, gain);
    }

    fn memory(&self) -> usize {
        self.latency
    }

    fn rests(&self, silent: usize) -> bool {
        // A round of gains behind everything that was read, and another in which they are added up anew.
        silent >= self.latency + 3 * self.window + 2 * HALF && self.released == 1.0 && self.sum == self.window as f64
    }

    fn pass(&mut self, frames: usize, _now: &Moment) {
        self.gains_at = (self.gains_at + frames) % self.window;
    }

    fn take_reduction_db(&mut self) -> f64 {
        let now = self.sum / self.window as f64;
        -gain_to_db(std::mem::replace(&mut self.lowest, now.min(1.0)))
    }

    fn reset(&mut self) {
        self.between.reset();
        self.released = 1.0;
        self.sound.reset();
        self.lowest = 1.0;
        (self.least.first, self.least.count, self.least.now) = (0, 0, 0);
        self.gains.fill(1.0);
        self.gains_at = 0;
        self.sum = self.window as f64;
    }
}
