//! The level between samples, read at four times the rate as ITU-R BS.1770-5, annex 2, does: frame by frame for what
//! acts on it, and by the piece for what only measures.

use crate::units::Frame;
use std::f64::consts::PI;

/// Half the length of the interpolation in frames: what is read lies so far back.
pub(super) const HALF: usize = 12;
/// Values for each frame: itself and those between it and the next.
const TIMES: usize = 4;

/// Weights of the values between two frames.
type Rows = [[f64; 2 * HALF]; TIMES - 1];

/// A sinc windowed by a raised cosine.
fn rows() -> Rows {
    let mut rows = [[0.0; 2 * HALF]; TIMES - 1];
    for (part, row) in rows.iter_mut().enumerate() {
        let offset = (part + 1) as f64 / TIMES as f64;
        let mut sum = 0.0;
        for (n, weight) in row.iter_mut().enumerate() {
            let t = n as f64 - (HALF - 1) as f64 - offset;
            let window = libm::cos(PI * t / (2.0 * HALF as f64));
            *weight = libm::sin(PI * t) / (PI * t) * window * window;
            sum += *weight;
        }
        row.iter_mut().for_each(|w| *w /= sum);
    }
    rows
}

/// The highest magnitude from the middle one of the frames up to the next.
#[inline]
fn highest(rows: &Rows, frames: &[Frame; 2 * HALF]) -> f64 {
    let [l, r] = frames[HALF - 1];
    let mut peak = l.abs().max(r.abs());
    for row in rows {
        let mut sums = [[0.0; 2]; 2];
        for (pair, weights) in frames.as_chunks::<2>().0.iter().zip(row.as_chunks::<2>().0) {
            for (sum, ([l, r], w)) in sums.iter_mut().zip(pair.iter().zip(weights)) {
                sum[0] += l * w;
                sum[1] += r * w;
            }
        }
        peak = peak.max((sums[0][0] + sums[1][0]).abs()).max((sums[0][1] + sums[1][1]).abs());
    }
    peak
}

/// Reads frame by frame.
#[derive(Debug, Clone)]
pub(super) struct Between {
    rows: Rows,
    /// The newest frames, written twice so that they lie in one piece.
    recent: [Frame; 4 * HALF],
    at: usize,
}

impl Between {
    pub fn new() -> Self {
        Between { rows: rows(), recent: [[0.0; 2]; 4 * HALF], at: 0 }
    }

    /// The highest magnitude from the frame [`HALF`] ago up to the next, linear.
    #[inline]
    pub fn step(&mut self, frame: Frame) -> f64 {
        let length = 2 * HALF;
        self.recent[self.at] = frame;
        self.recent[self.at + length] = frame;
        self.at = (self.at + 1) % length;
        match self.recent[self.at..].first_chunk() {
            Some(frames) => highest(&self.rows, frames),
            None => 0.0,
        }
    }

    pub fn reset(&mut self) {
        (self.recent, self.at) = ([[0.0; 2]; 4 * HALF], 0);
    }
}

/// Frames of a piece.
const PIECE: usize = 64;
/// Frames before a piece that its values reach back to.
const PAST: usize = 2 * HALF - 1;

/// Measures the highest true peak of a stream. A piece that cannot reach it is passed over, so that most of a sound
/// costs little more than reading its samples.
#[derive(Debug, Clone)]
pub struct TruePeak {
    rows: Rows,
    /// What a value between samples can come to at most, of the highest sample around it.
    most: f64,
    /// The past, then the piece.
    stretch: [Frame; PAST + PIECE],
    /// Frames of a piece that is not full yet.
    count: usize,
    peak: f64,
}

impl Default for TruePeak {
    fn default() -> Self {
        let rows = rows();
        let most = rows.iter().map(|row| row.iter().map(|w| w.abs()).sum()).fold(1.0, f64::max);
        TruePeak { rows, most, stretch: [[0.0; 2]; PAST + PIECE], count: 0, peak: 0.0 }
    }
}

impl TruePeak {
    /// Takes any number of frames.
    pub fn take(&mut self, mut frames: &[Frame]) {
        while !frames.is_empty() {
            let (now, rest) = frames.split_at(frames.len().min(PIECE - self.count));
            self.stretch[PAST + self.count..][..now.len()].copy_from_slice(now);
            self.count += now.len();
            if self.count == PIECE {
                self.read_piece();
                self.stretch.copy_within(PIECE.., 0);
                self.count = 0;
            }
            frames = rest;
        }
    }

    /// Raises the peak by what stands in the stretch.
    fn read_piece(&mut self) {
        let stretch = &self.stretch[..PAST + self.count];
        let sample = stretch.as_flattened().iter().fold(0.0, |most: f64, x| most.max(x.abs()));
        if sample * self.most <= self.peak {
            return;
        }
        self.peak = self.peak.max(sample);
        for frames in stretch.array_windows() {
            self.peak = self.peak.max(highest(&self.rows, frames));
        }
    }

    /// The highest so far, linear; at least the highest sample.
    pub fn read(&self) -> f64 {
        let mut last = self.clone();
        last.read_piece();
        last.peak
    }

    /// The highest since the last call, linear.
    pub fn take_peak(&mut self) -> f64 {
        self.read_piece();
        std::mem::take(&mut self.peak)
    }
}
