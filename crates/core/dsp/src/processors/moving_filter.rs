//! A bell or shelf whose gain moves frame by frame: a state-variable filter (Zavalishin, The Art of VA Filter Design,
//! 2012). At 0 dB its output is its input, bit for bit.

use super::band::Shape;
use lane_units::{Frame, db_to_gain};

/// States below this are silence; about -300 dBFS.
const SILENCE: f64 = 1e-15;

/// Where it works.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Corner {
    pub shape: Shape,
    /// Tangent of the corner.
    pub g: f64,
    pub q: f64,
}

impl Corner {
    /// * `freq_hz` – kept under 0.49 of the rate.
    pub fn new(shape: Shape, freq_hz: f64, q: f64, sample_rate: u32) -> Self {
        let rate = f64::from(sample_rate);
        Corner { shape, g: libm::tan(std::f64::consts::PI * freq_hz.min(0.49 * rate) / rate), q }
    }
}

/// What it remembers: two states of each side.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub struct MovingFilter([[f64; 2]; 2]);

impl MovingFilter {
    /// Whether silence changes nothing in it.
    pub fn rests(&self) -> bool {
        *self == MovingFilter::default()
    }

    /// The next frame, at a gain of the bell or shelf.
    #[inline]
    pub fn step(&mut self, Corner { shape, g, q }: Corner, mut frame: Frame, gain_db: f64) -> Frame {
        // The square root of the gain.
        let a = if gain_db == 0.0 { 1.0 } else { db_to_gain(gain_db / 2.0) };
        let (g, k, m0, m1, m2) = match shape {
            Shape::LowShelf => (g / libm::sqrt(a), 1.0 / q, 1.0, (a - 1.0) / q, a * a - 1.0),
            Shape::HighShelf => (g * libm::sqrt(a), 1.0 / q, a * a, (1.0 - a) * a / q, 1.0 - a * a),
            _ => (g, 1.0 / (q * a), 1.0, (a * a - 1.0) / (q * a), 0.0),
        };
        let a1 = 1.0 / (1.0 + g * (g + k));
        let a2 = g * a1;
        let a3 = g * a2;
        for (x, [first, second]) in frame.iter_mut().zip(&mut self.0) {
            let v3 = *x - *second;
            let v1 = a1 * *first + a2 * v3;
            let v2 = *second + a2 * *first + a3 * v3;
            *first = 2.0 * v1 - *first;
            *second = 2.0 * v2 - *second;
            if first.abs() < SILENCE && second.abs() < SILENCE {
                (*first, *second) = (0.0, 0.0);
            }
            *x = m0 * *x + m1 * v1 + m2 * v2;
        }
        frame
    }
}
