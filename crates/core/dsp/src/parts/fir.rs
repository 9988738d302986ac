//! Filters without feedback over stretches of frames, many sums side by side.

use lane_units::Frame;

/// Sums that are computed side by side, so that none waits for another, and the width of a register in 32-bit floats.
const ABREAST: usize = 16;
const WIDE: usize = 4;

/// A frame on its way through such filters, in 32 bits: that rounds 120 dB and more under the sound, whatever its level,
/// and takes half the time.
pub type Pair = [f32; 2];
/// What is smaller than that is silence; about -480 dBFS.
pub const SILENCE: f64 = 1e-24;

/// A frame in single precision.
#[inline]
pub fn narrow(frame: Frame) -> Pair {
    frame.map(|x| if x.abs() < SILENCE { 0.0 } else { x as f32 })
}

/// A frame in double precision.
#[inline]
pub fn wide(pair: Pair) -> Frame {
    pair.map(f64::from)
}

/// The newest frames, with as many before them as weights reach back to.
#[derive(Debug, Clone)]
pub struct Stretch {
    frames: Vec<Pair>,
    past: usize,
    /// Where the newest frame ends.
    end: usize,
}

impl Stretch {
    /// * `past` – frames that are kept before the newest.
    /// * `most` – frames that are taken at a time at most.
    pub fn new(past: usize, most: usize) -> Self {
        Stretch { frames: vec![[0.0; 2]; past + 2 * most], past, end: past }
    }

    /// Takes the next frames behind those that are kept.
    pub fn take(&mut self, frames: impl ExactSizeIterator<Item = Pair>) {
        let count = frames.len();
        if self.end + count > self.frames.len() {
            self.frames.copy_within(self.end - self.past..self.end, 0);
            self.end = self.past;
        }
        for (place, frame) in self.frames[self.end..].iter_mut().zip(frames) {
            *place = frame;
        }
        self.end += count;
    }

    /// The newest frames with so many before them.
    pub fn newest(&self, count: usize, past: usize) -> &[Pair] {
        &self.frames[self.end - count - past..self.end]
    }

    /// Adds to what stands in `to` the weighted sums that end at the newest frames. Each is added up from the oldest
    /// frame to the newest, so that it is the same in whatever company it is computed.
    ///
    /// * `weights` – for the oldest frame first; one more than the past at most.
    #[inline]
    pub fn sum_onto(&self, weights: &[f32], to: &mut [Pair]) {
        let from = self.newest(to.len(), weights.len() - 1);
        let (groups, rest) = to.as_chunks_mut::<ABREAST>();
        for (at, group) in groups.iter_mut().enumerate() {
            let from = from[at * ABREAST..].as_flattened();
            let mut sums = [[0.0; WIDE]; 2 * ABREAST / WIDE];
            for (n, w) in weights.iter().enumerate() {
                let Some(window) = from[2 * n..].first_chunk::<{ 2 * ABREAST }>() else { break };
                for (sum, window) in sums.iter_mut().zip(window.as_chunks::<WIDE>().0) {
                    for (sum, x) in sum.iter_mut().zip(window) {
                        *sum += x * w;
                    }
                }
            }
            for (to, sum) in group.as_flattened_mut().as_chunks_mut::<WIDE>().0.iter_mut().zip(&sums) {
                for (to, sum) in to.iter_mut().zip(sum) {
                    *to += sum;
                }
            }
        }
        let done = groups.len() * ABREAST;
        for (from, to) in from[done..].windows(weights.len()).zip(rest) {
            let mut sum = [0.0; 2];
            for ([l, r], w) in from.iter().zip(weights) {
                sum = [sum[0] + l * w, sum[1] + r * w];
            }
            *to = [to[0] + sum[0], to[1] + sum[1]];
        }
    }

    /// Forgets what came before.
    pub fn reset(&mut self) {
        self.frames.fill([0.0; 2]);
    }
}

/// Weights over a stretch of their own.
#[derive(Debug, Clone)]
pub struct Fir {
    weights: Vec<f32>,
    stretch: Stretch,
}

impl Fir {
    /// * `weights` – for the oldest frame first.
    /// * `most` – frames that are taken at a time at most.
    pub fn new(weights: &[f64], most: usize) -> Self {
        let stretch = Stretch::new(weights.len() - 1, most);
        Fir { weights: weights.iter().map(|w| *w as f32).collect(), stretch }
    }

    /// Takes the next frames behind those that are kept.
    pub fn take(&mut self, frames: impl ExactSizeIterator<Item = Pair>) {
        self.stretch.take(frames);
    }

    /// The newest frames with so many before them.
    pub fn newest(&self, count: usize, past: usize) -> &[Pair] {
        self.stretch.newest(count, past)
    }

    /// Adds to what stands in `to` the sums that end at the newest frames.
    #[inline]
    pub fn sum_onto(&self, to: &mut [Pair]) {
        self.stretch.sum_onto(&self.weights, to);
    }

    /// Forgets what came before.
    pub fn reset(&mut self) {
        self.stretch.reset();
    }
}
