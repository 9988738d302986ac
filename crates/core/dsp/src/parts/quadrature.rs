//! Two copies of a sound a quarter of a wave apart, by two rows of all-passes of the first order whose phases differ by
//! 90° over a band. Level and phase of a tone in the band follow from them without waiting for its peaks.

use std::f64::consts::PI;

/// Corners of the rows over the middle of the band: within 0.7° over a band of 7.5 to 1, found by search.
const CORNERS: [[f64; 2]; 2] = [[0.160_5, 1.634_5], [0.611_6, 6.230_0]];
/// States below this are silence; about -300 dBFS.
const SILENCE: f64 = 1e-15;

/// Both sides' rows.
#[derive(Debug, Clone)]
pub struct Quadrature {
    weights: [[f64; 2]; 2],
    /// By side, row and all-pass.
    states: [[[f64; 2]; 2]; 2],
}

impl Quadrature {
    /// * `middle_hz` – the geometric middle of the band.
    pub fn new(middle_hz: f64, sample_rate: u32) -> Self {
        let middle = libm::tan(PI * middle_hz / f64::from(sample_rate));
        let weight = |corner: f64| (middle * corner - 1.0) / (middle * corner + 1.0);
        Quadrature { weights: CORNERS.map(|row| row.map(weight)), states: [[[0.0; 2]; 2]; 2] }
    }

    /// The next sample of a side, turned, and a quarter of a wave later.
    #[inline]
    pub fn step(&mut self, side: usize, x: f64) -> [f64; 2] {
        let mut out = [x; 2];
        for ((y, weights), states) in out.iter_mut().zip(&self.weights).zip(&mut self.states[side]) {
            for (weight, state) in weights.iter().zip(states) {
                let x = *y;
                *y = weight * x + *state;
                let kept = x - weight * *y;
                *state = if kept.abs() < SILENCE { 0.0 } else { kept };
            }
        }
        out
    }

    /// Whether it holds silence alone.
    pub fn rests(&self) -> bool {
        self.states == [[[0.0; 2]; 2]; 2]
    }

    /// Forgets what it heard.
    pub fn reset(&mut self) {
        self.states = [[[0.0; 2]; 2]; 2];
    }
}
