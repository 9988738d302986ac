//! The network of a reverb: sixteen delays that feed each other through a Hadamard matrix, each with a filter that
//! takes away as much as its length asks for at every frequency.

use crate::parts::{frames_of, options};
use lane_units::{Frame, db_to_gain, gain_to_db};
use std::f64::consts::PI;

options! {
    /// What it sounds like: how long its ways are, and how evenly they fill at once.
    Space {
        Room: "room", "Room";
        Plate: "plate", "Plate";
        Hall: "hall", "Hall";
    }
}

/// Delays in the network.
const LINES: usize = 16;
/// Diffusers in a row before it, of each side.
const DIFFUSERS: usize = 4;
/// States below this are silence; about -300 dBFS.
const SILENCE: f64 = 1e-15;
/// Length of the move from one decay to another in milliseconds.
const MOVE_MS: f64 = 10.0;

/// Lows and highs differ from the middle by so much at most, each time round: what is left of them is silence.
const SHELF_DB: f64 = 60.0;

/// How fast the reverb falls.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Decay {
    /// Seconds in which it falls by 60 dB.
    pub middle_s: f64,
    pub low_s: f64,
    pub high_s: f64,
    pub low_hz: f64,
    pub high_hz: f64,
}

/// Two poles and two zeros.
type Biquad = [f64; 5];

/// A shelf of the first order, `(b0 + b1 z) / (1 + a1 z)`; `low` gives its gain to the lows, else to the highs.
fn shelf(low: bool, gain: f64, hz: f64, sample_rate: u32) -> [f64; 3] {
    let rate = f64::from(sample_rate);
    let w = libm::tan(PI * hz.min(0.49 * rate) / rate);
    let root = libm::sqrt(gain);
    let (n1, n0, d1, d0) = if low { (1.0, w * root, 1.0, w / root) } else { (root, w, 1.0 / root, w) };
    let scale = 1.0 / (d1 + d0);
    [(n1 + n0) * scale, (n0 - n1) * scale, (d0 - d1) * scale]
}

impl Decay {
    /// What a delay of so many frames has to take away, as two shelves and a gain in one filter.
    fn filter(&self, frames: usize, sample_rate: u32) -> Biquad {
        let db = |seconds: f64| -60.0 * frames as f64 / (f64::from(sample_rate) * seconds);
        let middle = db(self.middle_s);
        let apart = |seconds: f64| db_to_gain((db(seconds) - middle).clamp(-SHELF_DB, SHELF_DB));
        let low = shelf(true, apart(self.low_s), self.low_hz, sample_rate);
        let high = shelf(false, apart(self.high_s), self.high_hz, sample_rate);
        let gain = db_to_gain(middle);
        [
            gain * low[0] * high[0],
            gain * (low[0] * high[1] + low[1] * high[0]),
            gain * low[1] * high[1],
            low[2] + high[2],
            low[2] * high[2],
        ]
    }

    /// Seconds at some frequencies, as the filter of a delay of 40 ms makes them.
    pub fn at(&self, freqs_hz: &[f64], sample_rate: u32) -> Vec<f64> {
        let frames = sample_rate as usize / 25;
        let [b0, b1, b2, a1, a2] = self.filter(frames, sample_rate);
        let magnitude = |c: [f64; 3], w: f64| {
            let re = c[0] + c[1] * libm::cos(w) + c[2] * libm::cos(2.0 * w);
            let im = c[1] * libm::sin(w) + c[2] * libm::sin(2.0 * w);
            libm::sqrt(re * re + im * im)
        };
        let seconds = |hz: &f64| {
            let w = 2.0 * PI * hz / f64::from(sample_rate);
            let db = gain_to_db(magnitude([b0, b1, b2], w) / magnitude([1.0, a1, a2], w));
            -60.0 * 0.04 / db
        };
        freqs_hz.iter().map(seconds).collect()
    }
}

/// What a network is made of, in milliseconds.
#[derive(Debug, Clone, PartialEq)]
struct Ways {
    /// Shortest and longest delay.
    lines: (f64, f64),
    /// Shortest and longest diffuser.
    diffusers: (f64, f64),
    /// How much they diffuse.
    gain: f64,
}

/// The longest way is at most so much of the decay: what takes long to fill cannot fall fast.
const MOST_OF_DECAY: f64 = 0.12;
/// Ways give way to the decay in steps of an octave's quarter, so that few changes of it need another network.
const STEPS_AN_OCTAVE: f64 = 4.0;

impl Ways {
    /// A smaller space is the same with shorter ways. A larger one gets longer ones while the shortest stay as they
    /// are or a little under, so that echoes are as dense after 100 ms as in a small one.
    fn new(space: Space, size: f64, decay_s: f64) -> Self {
        let (lines, diffusers, gain) = match space {
            Space::Room => ((11.0, 43.0), (1.1, 6.1), 0.6),
            Space::Plate => ((13.0, 51.0), (2.3, 9.7), 0.7),
            Space::Hall => ((23.0, 83.0), (4.7, 15.3), 0.7),
        };
        let (less, more) = (size.min(1.0), size.max(1.0));
        let longest = lines.1 * less * libm::pow(more, 0.6);
        let steps = libm::ceil(STEPS_AN_OCTAVE * libm::log2(longest / (1000.0 * MOST_OF_DECAY * decay_s)) - 1e-9);
        let yields = less * libm::exp2(-steps.max(0.0) / STEPS_AN_OCTAVE);
        let scaled = |(from, to): (f64, f64), lower: f64, higher: f64| {
            (from * yields * libm::pow(more, lower), to * yields * libm::pow(more, higher))
        };
        Ways { lines: scaled(lines, -0.2, 0.6), diffusers: scaled(diffusers, -0.6, 0.0), gain }
    }
}

fn is_prime(n: usize) -> bool {
    n >= 2 && (2..).take_while(|d| d * d <= n).all(|d| !n.is_multiple_of(d))
}

/// Lengths between two times at even ratios, each the next prime of frames, so that no two echoes keep falling together.
fn lengths<const N: usize>((from_ms, to_ms): (f64, f64), sample_rate: u32) -> [usize; N] {
    let mut found = [0; N];
    let mut least = 2;
    for (n, length) in found.iter_mut().enumerate() {
        let ms = from_ms * libm::pow(to_ms / from_ms, n as f64 / (N - 1) as f64);
        let mut frames = least.max((ms * f64::from(sample_rate) / 1000.0) as usize);
        while !is_prime(frames) {
            frames += 1;
        }
        *length = frames;
        least = frames + 1;
    }
    found
}

/// A Schroeder diffuser: every echo once more, later, at the same level at every frequency.
#[derive(Debug, Clone)]
struct Diffuser {
    kept: Vec<f64>,
    at: usize,
    /// What was kept last.
    newest: f64,
    gain: f64,
}

impl Diffuser {
    #[inline]
    fn step(&mut self, x: f64) -> f64 {
        let old = self.kept[self.at];
        let inner = x - self.gain * old;
        self.newest = if inner.abs() < SILENCE { 0.0 } else { inner };
        self.kept[self.at] = self.newest;
        self.at += 1;
        if self.at == self.kept.len() {
            self.at = 0;
        }
        old + self.gain * inner
    }
}

/// The network at work.
#[derive(Debug, Clone)]
pub struct Tank {
    ways: Ways,
    diffusers: [[Diffuser; DIFFUSERS]; 2],
    lines: [Vec<f64>; LINES],
    at: [usize; LINES],
    decay: Decay,
    /// Coefficients by kind, so that all lines are computed at once.
    filters: [[f64; LINES]; 5],
    steps: [[f64; LINES]; 5],
    targets: [[f64; LINES]; 5],
    memory: [[f64; LINES]; 2],
    /// Gain that makes every decay as loud, and its step.
    level: f64,
    level_step: f64,
    level_target: f64,
    left: u32,
    /// Frames since something other than silence went in or round.
    quiet: usize,
    sample_rate: u32,
}

impl Tank {
    /// * `size` – 1 for the space as it is.
    pub fn new(space: Space, size: f64, decay: &Decay, sample_rate: u32) -> Self {
        let ways = Ways::new(space, size, decay.middle_s);
        let lines: [usize; LINES] = lengths(ways.lines, sample_rate);
        // The two sides share the row of lengths between them.
        let diffusers: [usize; 2 * DIFFUSERS] = lengths(ways.diffusers, sample_rate);
        let gain = ways.gain;
        let diffuser = |n: usize| Diffuser { kept: vec![0.0; diffusers[n]], at: 0, newest: 0.0, gain };
        let row = |side: usize| std::array::from_fn(|n| diffuser(2 * n + side));
        let mut tank = Tank {
            ways,
            diffusers: [row(0), row(1)],
            lines: lines.map(|frames| vec![0.0; frames]),
            at: [0; LINES],
            decay: *decay,
            filters: [[0.0; LINES]; 5],
            steps: [[0.0; LINES]; 5],
            targets: [[0.0; LINES]; 5],
            memory: [[0.0; LINES]; 2],
            level: 0.0,
            level_step: 0.0,
            level_target: 0.0,
            left: 0,
            quiet: usize::MAX,
            sample_rate,
        };
        tank.aim(decay);
        (tank.filters, tank.level) = (tank.targets, tank.level_target);
        tank
    }

    fn aim(&mut self, decay: &Decay) {
        let rate = f64::from(self.sample_rate);
        // What is left of a sound's power after one way round.
        let mut left = 0.0;
        for (n, line) in self.lines.iter().enumerate() {
            left += db_to_gain(-120.0 * line.len() as f64 / (rate * decay.middle_s)) / LINES as f64;
            for (kind, value) in decay.filter(line.len(), self.sample_rate).into_iter().enumerate() {
                self.targets[kind][n] = value;
            }
        }
        // All ways together come to half of what went in.
        self.level_target = libm::sqrt((1.0 - left) / (2.0 * left));
        self.decay = *decay;
    }

    /// Whether another space has the same ways, so that [`Tank::set`] is all that it takes.
    pub fn fits(&self, space: Space, size: f64, decay: &Decay) -> bool {
        Ways::new(space, size, decay.middle_s) == self.ways
    }

    /// Another decay; what sounds goes on with it.
    pub fn set(&mut self, decay: &Decay) {
        if *decay == self.decay {
            return;
        }
        self.aim(decay);
        let frames = frames_of(MOVE_MS, self.sample_rate).max(1);
        self.left = frames as u32;
        for kind in 0..5 {
            for n in 0..LINES {
                self.steps[kind][n] = (self.targets[kind][n] - self.filters[kind][n]) / frames as f64;
            }
        }
        self.level_step = (self.level_target - self.level) / frames as f64;
    }

    /// Filters between two stable ones are stable too, so they move in straight lines.
    fn move_on(&mut self) {
        self.left -= 1;
        if self.left == 0 {
            (self.filters, self.level) = (self.targets, self.level_target);
            return;
        }
        for (filters, steps) in self.filters.iter_mut().zip(&self.steps) {
            for (value, step) in filters.iter_mut().zip(steps) {
                *value += step;
            }
        }
        self.level += self.level_step;
    }

    /// The reverb of the next frame.
    #[inline]
    pub fn step(&mut self, frame: Frame) -> Frame {
        if self.left > 0 {
            self.move_on();
        }
        let mut sound = frame;
        for (x, row) in sound.iter_mut().zip(&mut self.diffusers) {
            *x = row.iter_mut().fold(*x, |x, diffuser| diffuser.step(x));
        }
        let mut loud = self.diffusers.as_flattened().iter().fold(0.0, |sum, d| sum + d.newest.abs());
        let mut heard = [0.0; LINES];
        for ((value, line), at) in heard.iter_mut().zip(&self.lines).zip(&self.at) {
            *value = line[*at];
        }
        // What goes round is what is left behind the filters.
        let [b0, b1, b2, a1, a2] = &self.filters;
        let [first, second] = &mut self.memory;
        for n in 0..LINES {
            let x = heard[n];
            let y = b0[n] * x + first[n];
            first[n] = b1[n] * x - a1[n] * y + second[n];
            second[n] = b2[n] * x - a2[n] * y;
            heard[n] = y;
        }
        let mut out = [0.0; 2];
        for (n, pair) in heard.chunks_exact(2).enumerate() {
            // Signs that differ between the sides, so that they do not sound alike.
            let sign = if n % 2 == 0 { 1.0 } else { -1.0 };
            out[0] += pair[0];
            out[1] += sign * pair[1];
        }
        hadamard(&mut heard);
        for (n, value) in heard.iter().enumerate() {
            let sign = if n / 2 % 2 == 0 { 1.0 } else { -1.0 };
            let x = 0.25 * value + INTO * sign * sound[n % 2];
            let (line, at) = (&mut self.lines[n], &mut self.at[n]);
            let kept = if x.abs() < SILENCE { 0.0 } else { x };
            line[*at] = kept;
            loud += kept.abs();
            *at += 1;
            if *at == line.len() {
                *at = 0;
            }
        }
        self.quiet = if loud == 0.0 { self.quiet.saturating_add(1) } else { 0 };
        // Both of a filter at once: letting go of one would set the other going.
        let [first, second] = &mut self.memory;
        for (a, b) in first.iter_mut().zip(second) {
            if a.abs() < SILENCE && b.abs() < SILENCE {
                (*a, *b) = (0.0, 0.0);
            }
        }
        out.map(|x| x * self.level)
    }

    /// Whether silence alone goes round in it.
    pub fn rests(&self) -> bool {
        let longest = self.lines.iter().map(Vec::len).max().unwrap_or(0);
        self.left == 0 && self.quiet > longest && self.memory == [[0.0; LINES]; 2]
    }

    pub fn reset(&mut self) {
        self.diffusers.as_flattened_mut().iter_mut().for_each(|d| {
            d.kept.fill(0.0);
            d.newest = 0.0;
        });
        self.lines.iter_mut().for_each(|l| l.fill(0.0));
        (self.memory, self.quiet) = ([[0.0; LINES]; 2], usize::MAX);
        (self.filters, self.level, self.left) = (self.targets, self.level_target, 0);
        // Where the rings stand makes no difference to what comes out of empty ones.
    }
}

/// Part of a side that goes into each of its eight lines: together as much power as came in.
const INTO: f64 = 0.353_553_390_593_273_8;

/// The Walsh-Hadamard transform in place, four times as large as one that keeps the power.
#[inline]
fn hadamard(values: &mut [f64; LINES]) {
    let mut half = 1;
    while half < LINES {
        for start in (0..LINES).step_by(2 * half) {
            for n in start..start + half {
                let (a, b) = (values[n], values[n + half]);
                values[n] = a + b;
                values[n + half] = a - b;
            }
        }
        half *= 2;
    }
}
